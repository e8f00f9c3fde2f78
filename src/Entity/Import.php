<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Geschenk\Core\Import\Part;

/**
 * Something of a customer's that lay elsewhere and is made a backup that the shop keeps: carried in on a stick, or sent
 * as a file. It stays as a record of where that came from.
 *
 * @phpstan-type PartTold array{id: string, name: string, sort: string, bytes: int, at: int|null}
 */
#[ORM\Entity]
class Import
{
    /** What was made of it; null until then. */
    #[ORM\OneToOne, ORM\JoinColumn(nullable: true)]
    private ?Backup $backup = null;

    /**
     * Of several things that it holds, those that may be meant; none where nobody has to say which.
     *
     * @var list<PartTold>
     */
    #[ORM\Column(type: 'json')]
    private array $parts = [];
    /**
     * Ids of those that were meant: of what an archive holds, and of what that holds.
     *
     * @var list<string>
     */
    #[ORM\Column(type: 'json')]
    private array $chosen = [];

    /**
     * @param string      $stick  id; "" where it was sent
     * @param string      $from   what people called the stick then; "" where it was sent
     * @param string      $path   on the stick, or "" for all of it
     * @param string|null $upload id of what was sent; null once that is gone, and where it is on a stick
     */
    public function __construct(
        /** that of its run */
        #[ORM\Id, ORM\Column(length: 36)] public readonly string $id,
        #[ORM\ManyToOne, ORM\JoinColumn(nullable: false)] public readonly Customer $customer,
        #[ORM\Column(length: 80)] public readonly string $stick,
        #[ORM\Column(name: 'label', length: 80)] public readonly string $from,
        #[ORM\Column(length: 1000)] private string $path,
        #[ORM\Column(length: 36, nullable: true)] private ?string $upload,
        /** what the file or folder is called */
        #[ORM\Column(length: 255)] private string $name,
        /** name of an Importer, or that of an archive that holds something */
        #[ORM\Column(length: 20)] public readonly string $sort,
        #[ORM\Column] public readonly \DateTimeImmutable $askedAt,
        #[ORM\Column(length: 60)] public readonly string $askedBy,
    ) {
    }

    public function path(): string
    {
        return $this->path;
    }

    public function upload(): ?string
    {
        return $this->upload;
    }

    public function name(): string
    {
        return $this->name;
    }

    public function isOf(Backup $backup): void
    {
        $this->backup = $backup;
        $this->path = '';
        $this->parts = $this->chosen = [];
    }

    /** @param list<Part> $parts of which one is meant */
    public function holds(array $parts): void
    {
        $this->parts = array_map(static fn (Part $part): array => [
            'id' => mb_scrub($part->id), 'name' => mb_substr(mb_scrub($part->name), 0, 1_000), 'sort' => $part->sort,
            'bytes' => $part->bytes, 'at' => $part->at,
        ], $parts);
    }

    /** @return list<PartTold> */
    public function parts(): array
    {
        return $this->parts;
    }

    /** @return bool whether it is one of those */
    public function means(string $id): bool
    {
        if (!in_array($id, array_column($this->parts, 'id'), true)) {
            return false;
        }
        $this->chosen[] = $id;
        $this->parts = [];

        return true;
    }

    /** @return list<string> */
    public function chosen(): array
    {
        return $this->chosen;
    }

    public function backup(): ?Backup
    {
        return $this->backup;
    }

    /** What was sent is gone from here. */
    public function isLetGo(): void
    {
        $this->upload = null;
    }

    /** What people call their files may say whose they are, and what is in them. */
    public function forgetsNames(): void
    {
        $this->name = $this->path = '';
        $this->parts = $this->chosen = [];
    }
}
