<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\UnusableInput;

/**
 * What a customer told to open a sealed backup with: a key of 64 hexadecimal digits, or a password. Which of the two it
 * is, the sealed file says: a password may look like a key.
 */
final readonly class BackupKey
{
    private function __construct(#[\SensitiveParameter] public string $told)
    {
    }

    public static function of(#[\SensitiveParameter] string $told): self
    {
        return new self($told);
    }

    /** The 32 bytes of a key of 64 hexadecimal digits, in groups or not; null when what was told is none. */
    public function digits(): ?string
    {
        $digits = (string) preg_replace('/[\s-]+/', '', $this->told);

        return 1 === preg_match('/^[0-9A-Fa-f]{64}$/D', $digits) ? (string) hex2bin($digits) : null;
    }

    /**
     * The first line of a file, without its line end; a space at its end is part of a password.
     *
     * @throws UnusableInput when the file can't be read or holds nothing
     */
    public static function fromFile(string $path): self
    {
        $told = is_file($path) ? @file_get_contents($path, false, null, 0, 4096) : false;
        if (false === $told) {
            throw UnusableInput::unreadable($path);
        }
        $line = rtrim(explode("\n", $told, 2)[0], "\r");

        return '' === $line ? throw UnusableInput::emptyKeyFile($path) : self::of($line);
    }
}
