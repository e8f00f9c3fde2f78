<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** Whether the file of an attachment is where its row says it is, and what it is said to be. */
enum Presence: string
{
    case Present = 'present';
    /** The row names a file that is not there: the phone itself no longer has it. */
    case Missing = 'missing';
    /** The file is there and has no bytes. */
    case Empty = 'empty';
    /** The file is there and can't be read. */
    case Unreadable = 'unreadable';
    /** The file is there, and its first bytes are of another type than its row says. It is carried as it is. */
    case WrongType = 'wrong_type';
    /** The path leads out of the attachment folder; it is never followed. */
    case Refused = 'refused';

    public function hasFile(): bool
    {
        return match ($this) {
            self::Present, self::Empty, self::WrongType => true,
            default => false,
        };
    }

    /** Bytes that there are, of whatever type. */
    public function hasBytes(): bool
    {
        return self::Present === $this || self::WrongType === $this;
    }

    /** The word that is compared between platforms: what type a file is said to be stands beside it. */
    public function canonical(): string
    {
        return self::WrongType === $this ? self::Present->value : $this->value;
    }
}
