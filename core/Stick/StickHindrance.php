<?php

declare(strict_types=1);

namespace Geschenk\Core\Stick;

use Geschenk\Core\Hindrance;

/** The stick is out, or has no room. What is on it stays as it is; it is gone on with when that is put right. */
final class StickHindrance extends Hindrance
{
    public static function gone(string $label): self
    {
        return new self('stick_gone', ['stick' => $label]);
    }

    /**
     * @param int $needed bytes that are still to come
     * @param int $free   bytes
     */
    public static function full(string $label, int $needed, int $free): self
    {
        return new self('stick_full', ['stick' => $label, 'needed_bytes' => $needed, 'free_bytes' => $free]);
    }
}
