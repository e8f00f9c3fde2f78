<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * Whose chats they are, also when they come again years later. Nobody is taken for somebody else by their name: that it
 * is the same person is said at the counter.
 */
#[ORM\Entity]
class Customer
{
    /** What is said where a name stood, in any language. */
    public const NOBODY = '—';

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    /** Since when nobody knows any more who it was. */
    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $forgottenAt = null;

    #[ORM\Embedded(columnPrefix: 'over_')]
    private SeenOver $over;

    /** The run of theirs that was asked for last. */
    #[ORM\OneToOne, ORM\JoinColumn(nullable: true)]
    private ?Run $run = null;

    /** @param string $language for the sheet; BCP 47 */
    public function __construct(
        #[ORM\Column(length: 200)] private string $name,
        #[ORM\Column(length: 200)] private string $contact,
        #[ORM\Column(length: 12)] private string $language,
    ) {
        $this->over = new SeenOver();
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The customer is not stored yet.');
    }

    public function name(): string
    {
        return $this->name;
    }

    public function contact(): string
    {
        return $this->contact;
    }

    public function language(): string
    {
        return $this->language;
    }

    /** @return bool whether anything was written down otherwise */
    public function correct(string $name, string $contact, string $language): bool
    {
        if ([$name, $contact, $language] === [$this->name, $this->contact, $this->language]) {
            return false;
        }
        [$this->name, $this->contact, $this->language] = [$name, $contact, $language];

        return true;
    }

    public function begin(Run $run): void
    {
        $this->run?->isFollowed($run->askedAt);
        $this->run = $run;
    }

    public function run(): ?Run
    {
        return $this->run;
    }

    public function forget(\DateTimeImmutable $at): void
    {
        $this->forgottenAt ??= $at;
        [$this->name, $this->contact] = [self::NOBODY, ''];
    }

    public function isForgotten(): bool
    {
        return null !== $this->forgottenAt;
    }

    public function forgottenAt(): ?\DateTimeImmutable
    {
        return $this->forgottenAt;
    }

    public function over(): SeenOver
    {
        return $this->over;
    }
}
