<?php

declare(strict_types=1);

namespace Geschenk\App\Uncover;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;

/** What an uncovering opens, and nothing else. */
final readonly class What
{
    /** @param list<string> $pieces the only pictures that it opens; none for all of what it is of */
    private function __construct(
        public string $subject,
        public int $number,
        public int $tray,
        public bool $isClosed,
        public array $pieces = [],
    ) {
    }

    /**
     * @param int  $id       of a conversation in the backup
     * @param bool $isAtRest whether nobody works with that
     */
    public static function conversation(Backup $backup, int $id, bool $isAtRest): self
    {
        return new self('backup '.$backup->id, $id, $backup->tray->number, $isAtRest);
    }

    /** All conversations of a backup at once. */
    public static function all(Backup $backup, bool $isAtRest): self
    {
        return self::conversation($backup, 0, $isAtRest);
    }

    /**
     * What eyes compare of one check: the first screenful of both phones, and pictures that were drawn.
     *
     * @param int          $seed   what they were drawn by
     * @param list<string> $pieces the drawn ones
     */
    public static function eyes(Move $move, int $seed, array $pieces = []): self
    {
        return new self(
            sprintf('check %d of %d', $move->bringing()->check()?->id() ?? 0, $move->id()), $seed, $move->tray->number,
            null !== $move->tray->closedAt(), $pieces,
        );
    }
}
