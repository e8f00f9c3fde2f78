<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\ReadingCopy\Selected;

/**
 * A copy of a backup that somebody takes home to read. It stays as a record of what left the shop: who had it made, of
 * what, on which stick, and the hash that it can be told by.
 *
 * @phpstan-import-type SelectedArray from Selected
 *
 * @phpstan-type Part array{sha256: string, messages: int, first: int, last: int}
 * @phpstan-type Paper array{fingerprint: string, parts: list<Part>}
 * @phpstan-type Made array{files: int, bytes: int, sha256: string, spoilt?: int, paper?: Paper}
 */
#[ORM\Entity]
class ReadingCopy
{
    /** What it is called on the stick, with its ending; null until it is there. */
    #[ORM\Column(length: 160, nullable: true)]
    private ?string $name = null;

    #[ORM\Column(nullable: true)]
    private ?\DateTimeImmutable $madeAt = null;

    /** @var Made|null what is in it; the hash is of its list of sums */
    #[ORM\Column(type: 'json', nullable: true)]
    private ?array $made = null;

    /**
     * @param list<string>  $forms    names of Form
     * @param string        $packing  name of a Packing
     * @param SelectedArray $selected
     */
    public function __construct(
        /** that of its run */
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Backup $backup,
        #[ORM\Column(type: 'json')] public readonly array $forms,
        #[ORM\Column(length: 20)] public readonly string $packing,
        /** whether it is under a password */
        #[ORM\Column] public readonly bool $isLocked,
        #[ORM\Column(type: 'json')] private array $selected,
        /** of whoever takes it home, BCP 47 */
        #[ORM\Column(length: 10)] public readonly string $language,
        #[ORM\Column(length: 80)] public readonly string $stick,
        /** what people called the stick then */
        #[ORM\Column(length: 80)] public readonly string $stickLabel,
        #[ORM\Column] public readonly \DateTimeImmutable $askedAt,
        #[ORM\Column(length: 60)] public readonly string $askedBy,
    ) {
    }

    public function selected(): Selected
    {
        return Selected::of($this->selected);
    }

    /** With its backup goes with whom somebody wrote; that it was a part stays. */
    public function forgetWithWhom(): void
    {
        if (null !== $this->selected['conversations']) {
            $this->selected = ['conversations' => []] + $this->selected;
        }
    }

    /** @param Made $made */
    public function made(string $name, array $made, \DateTimeImmutable $at): void
    {
        $this->name = $name;
        $this->made = $made;
        $this->madeAt = $at;
    }

    public function name(): ?string
    {
        return $this->name;
    }

    /** When it was on the stick, read back; null before. */
    public function madeAt(): ?\DateTimeImmutable
    {
        return $this->madeAt;
    }

    /** @return Paper|null of what its pages on paper were made; null where it has none */
    public function paper(): ?array
    {
        return $this->made['paper'] ?? null;
    }

    /** @return Made|null */
    public function sums(): ?array
    {
        return $this->made;
    }
}
