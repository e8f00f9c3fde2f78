<?php

declare(strict_types=1);

namespace Geschenk\Core\Stick;

/** A place that a customer brings along to take something home on, and can be pulled out at any moment. */
interface Stick
{
    /** Names it among all others, also when it is put in again: letters, digits and dashes, at most 80. */
    public function id(): string;

    /** What people call it. */
    public function label(): string;

    public function isThere(): bool;

    /** @throws StickHindrance when it is not there */
    public function freeBytes(): int;

    /**
     * The folder that it is seen as on this computer.
     *
     * @throws StickHindrance when it is not there
     */
    public function folder(): string;
}
