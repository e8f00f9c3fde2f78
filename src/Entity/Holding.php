<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Transfer\Offer;

/**
 * What an app on a phone holds, as last looked at. The watch sees by its files whether that is still so, and has a
 * worker look again when it is not.
 *
 * @phpstan-import-type Record from OfferSeen
 *
 * @phpstan-type Counts array{
 *     number: string, conversations: int, messages: int, attachments: int, attachment_bytes: int, newest_at: int|null,
 *     lost?: int, loss_uncounted?: bool,
 * }
 */
#[ORM\Entity]
class Holding
{
    /** Differs when the app's files do; as the watch saw them last, and null while they can't be seen. */
    #[ORM\Column(length: 64, nullable: true)]
    private ?string $mark = null;

    /** The mark that the files had when they were looked at. */
    #[ORM\Column(length: 64, nullable: true)]
    private ?string $lookedAtMark = null;

    /** @var Counts|null */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $counts = null;

    /** Why it could not be read: a code of translations/ under "failure", with its parameters. */
    #[ORM\Column(length: 60, nullable: true)]
    private ?string $trouble = null;

    /** @var array<string, string|int> */
    #[ORM\Column(type: 'json')]
    private array $troubleParams = [];

    /** @var list<Record>|null what the ways in had to offer, what is proposed first; null while nobody knows */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $offers = null;

    /** Bytes of the files that hold the chats; null while they were not seen. */
    #[ORM\Column(type: 'bigint', nullable: true)]
    private ?int $chatBytes = null;

    #[ORM\Column]
    private int $tries = 0;

    public function __construct(
        #[ORM\Id, ORM\Column(length: 40)] public readonly string $serial,
        #[ORM\Id, ORM\Column(length: 40)] public readonly string $app,
    ) {
    }

    public function seen(?string $mark, ?int $chatBytes): void
    {
        $this->mark = $mark;
        if (null !== $mark) {
            $this->chatBytes = $chatBytes;
        }
    }

    /** @param list<OfferSeen> $offers what is proposed first */
    public function hasOffers(array $offers): void
    {
        $this->offers = array_map(static fn (OfferSeen $seen): array => $seen->record(), $offers);
    }

    /** @param Counts $counts */
    public function looked(string $mark, array $counts): void
    {
        $this->tries = 0;
        $this->lookedAtMark = $mark;
        $this->counts = $counts;
        $this->trouble = null;
        $this->troubleParams = [];
    }

    /**
     * @param string|null               $mark   null when it is worth looking again although nothing changed
     * @param array<string, string|int> $params
     */
    public function lookFailed(?string $mark, string $trouble, array $params): void
    {
        ++$this->tries;
        $this->lookedAtMark = $mark;
        $this->counts = null;
        $this->trouble = $trouble;
        $this->troubleParams = $params;
    }

    /** Whether the files are no longer those that were looked at. */
    public function isStale(): bool
    {
        return null !== $this->mark && $this->mark !== $this->lookedAtMark;
    }

    public function mark(): ?string
    {
        return $this->mark;
    }

    public function lookedAtMark(): ?string
    {
        return $this->lookedAtMark;
    }

    public function tries(): int
    {
        return $this->tries;
    }

    /** @return Counts|null null when it was not looked at yet, or could not be read */
    public function counts(): ?array
    {
        return $this->counts;
    }

    public function trouble(): ?string
    {
        return $this->trouble;
    }

    /** @return array<string, string|int> */
    public function troubleParams(): array
    {
        return $this->troubleParams;
    }

    /** @return list<OfferSeen>|null what the ways in had to offer, what is proposed first; null while nobody knows */
    public function offers(): ?array
    {
        return null === $this->offers ? null : array_map(OfferSeen::of(...), $this->offers);
    }

    /** What is taken where nothing else is chosen; null where there is nothing, or nobody knows. */
    public function proposed(): ?Offer
    {
        return isset($this->offers[0]) ? OfferSeen::of($this->offers[0])->offer : null;
    }

    /** Bytes of the files that hold its chats; null while nobody knows. */
    public function chatBytes(): ?int
    {
        return $this->chatBytes;
    }

    /** Bytes of chats and attachments together; null while nobody knows. */
    public function bytes(): ?int
    {
        $attachments = $this->attachmentBytes();

        return null === $this->chatBytes || null === $attachments ? null : $this->chatBytes + $attachments;
    }

    /** Bytes that its attachments would take elsewhere; null while nobody knows. */
    public function attachmentBytes(): ?int
    {
        return $this->counts['attachment_bytes'] ?? $this->proposed()?->attachmentBytes;
    }
}
