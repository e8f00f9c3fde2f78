<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Zip;

use Geschenk\Core\UnusableInput;

/** A ZIP that is not unpacked: nothing of it is. */
final class UnusableZip extends UnusableInput
{
    /** It has no end, where all that is in it would be listed. */
    public static function cut(string $path): self
    {
        return new self('zip_cut', ['path' => $path]);
    }

    public static function broken(string $path): self
    {
        return new self('zip_broken', ['path' => $path]);
    }

    public static function tooMany(string $path, int $found, int $most): self
    {
        return new self('zip_too_many', ['path' => $path, 'found' => $found, 'most' => $most]);
    }

    /**
     * More comes out of it than honest files ever shrank from.
     *
     * @param int $bytes  that it promises
     * @param int $packed bytes of itself
     */
    public static function swells(string $path, int $bytes, int $packed): self
    {
        return new self('zip_swells', ['path' => $path, 'promised_bytes' => $bytes, 'packed_bytes' => $packed]);
    }

    /** A name in it leads out of the folder, or is none that a file could have. */
    public static function leadsOut(string $path, string $name): self
    {
        return new self('zip_leads_out', ['path' => $path, 'file' => mb_scrub(mb_strcut($name, 0, 200))]);
    }

    public static function noPlainFile(string $path, string $name): self
    {
        return new self('zip_no_plain_file', ['path' => $path, 'file' => $name]);
    }

    /** Two names in it are the same, or differ in upper and lower case alone, or one is both file and folder. */
    public static function twice(string $path, string $name): self
    {
        return new self('zip_twice', ['path' => $path, 'file' => $name]);
    }

    public static function fileDamaged(string $path, string $name): self
    {
        return new self('zip_damaged', ['path' => $path, 'file' => $name]);
    }

    public static function needsPassword(string $path): self
    {
        return new self('zip_needs_password', ['path' => $path]);
    }

    public static function wrongPassword(string $path): self
    {
        return new self('zip_wrong_password', ['path' => $path]);
    }
}
