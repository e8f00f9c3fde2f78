<?php

declare(strict_types=1);

namespace Geschenk\Core\Files;

/** This computer's disk is full. What was done so far stays; whoever was at work goes on when there is room. */
final class DiskFull extends \RuntimeException
{
    /** ENOSPC and EDQUOT as PHP's warnings and SQLite's errors tell them. */
    private const TOLD = '/errno=(28|122)\b|No space left on device|Disk quota exceeded|database or disk is full/i';

    /** @param string $path what was being written */
    public function __construct(public readonly string $path, ?\Throwable $cause = null)
    {
        parent::__construct(sprintf('This computer’s disk is full: %s could not be written. Free some space; it goes on by itself, nothing is lost.', $path), 0, $cause);
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
