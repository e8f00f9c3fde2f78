<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** What is asked of one phone: the bytes that travel, and what follows from them. */
final readonly class Demand
{
    /** Bytes a second that any cable brings, while nobody has measured this one. */
    private const SPEED = 10_000_000;
    /** Share of free space that must remain after writing. */
    private const SPACE_MARGIN = 0.1;
    /** Percent: below that, phones darken, slow down and lock themselves. */
    private const BATTERY_RESERVE = 20;
    /** Percent for each minute with the screen on and the cable busy. */
    private const BATTERY_MINUTE = 0.5;
    /** Percent that can be asked of a phone at all; a longer job needs power meanwhile. */
    private const BATTERY_MOST = 80;

    /**
     * @param int        $attachments bytes of attachments
     * @param int        $chats       bytes of the files that hold the chats
     * @param float|null $speed       bytes a second that this phone and its cable have brought
     */
    public function __construct(
        public int $attachments,
        public int $chats,
        private Role $role,
        private ?float $speed = null,
    ) {
    }

    /** Read once from the phone that gives; written to the one that receives, and read back. */
    public function seconds(): int
    {
        $bytes = $this->attachments + $this->chats;

        return (int) ceil((Role::Gives === $this->role ? $bytes : 2 * $bytes) / max(1.0, $this->speed ?? self::SPEED));
    }

    /** Percent that the battery must have before it begins. */
    public function battery(): int
    {
        $wanted = self::BATTERY_RESERVE + (int) ceil($this->seconds() / 60 * self::BATTERY_MINUTE);

        return min(self::BATTERY_MOST, $wanted);
    }

    /**
     * Bytes that must be free: attachments, the chats as they are staged, and as many again, for the messenger works on
     * a copy of its own when it first opens them.
     */
    public function space(): int
    {
        return self::withMargin($this->attachments + 2 * $this->chats);
    }

    /** Bytes that must be free before so many are written. */
    public static function withMargin(int $bytes): int
    {
        return (int) ceil($bytes * (1 + self::SPACE_MARGIN));
    }
}
