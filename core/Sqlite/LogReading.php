<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** What became of a write-ahead log. */
final readonly class LogReading
{
    /**
     * @param int  $unreadable frames that could not be brought in
     * @param int  $mended     frames that could, although SQLite would have stopped before them
     * @param bool $isOpen     it ends within a transaction: what that held is not in the database
     */
    public function __construct(public int $unreadable = 0, public int $mended = 0, public bool $isOpen = false)
    {
    }

    /** Whether something may be missing that nobody can count. */
    public function isShort(): bool
    {
        return $this->unreadable > 0 || $this->isOpen;
    }
}
