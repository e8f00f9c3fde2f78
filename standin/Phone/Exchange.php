<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

/** Lets two folders change places in one step: renameat2(2) with RENAME_EXCHANGE, where system and PHP can. */
final class Exchange
{
    private const AT_FDCWD = -100;
    private const RENAME_EXCHANGE = 2;

    /** @return bool false where it can't be done in one step; nothing has changed then */
    public static function folders(string $one, string $other): bool
    {
        if (!extension_loaded('ffi')) {
            return false;
        }
        try {
            $libc = \FFI::cdef('int renameat2(int, const char *, int, const char *, unsigned int);');

            // @phpstan-ignore method.notFound (declared one line above)
            return 0 === $libc->renameat2(self::AT_FDCWD, $one, self::AT_FDCWD, $other, self::RENAME_EXCHANGE);
        } catch (\FFI\Exception) {
            return false;
        }
    }
}
