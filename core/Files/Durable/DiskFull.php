<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

use Geschenk\Core\Failure;

/** This computer's disk is full. What was done so far stays; whoever was at work goes on when there is room. */
final class DiskFull extends Failure
{
    public const REASON = 'disk_full';
    /** ENOSPC and EDQUOT as PHP's warnings and SQLite's errors tell them. */
    private const TOLD = '/errno=(28|122)\b|No space left on device|Disk quota exceeded|database or disk is full/i';

    /** @param string $path what was being written */
    public static function at(string $path, ?\Throwable $cause = null): self
    {
        return new self(self::REASON, ['path' => $path], $cause);
    }

    /** @param int $bytes needed before it is worth beginning */
    public static function lacks(int $bytes): self
    {
        return new self('disk_lacks', ['needed_bytes' => $bytes]);
    }

    /** Whether that is what an error of somebody else means. */
    public static function isMeantBy(\Throwable $error): bool
    {
        for ($e = $error; null !== $e; $e = $e->getPrevious()) {
            if ($e instanceof self || self::isToldBy($e->getMessage())) {
                return true;
            }
        }

        return false;
    }

    /** Whether a warning of PHP says so. */
    public static function isToldBy(string $warning): bool
    {
        return 1 === preg_match(self::TOLD, $warning);
    }
}
