<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What a customer has to open a sealed backup with: a key of 64 hexadecimal digits, or a password. */
final readonly class BackupKey
{
    private function __construct(public bool $isPassword, #[\SensitiveParameter] public string $secret)
    {
    }

    /** Tells the two apart: 64 hexadecimal digits, in groups or not, are a key; everything else is a password. */
    public static function of(#[\SensitiveParameter] string $told): self
    {
        $digits = (string) preg_replace('/[\s-]+/', '', $told);

        return 1 === preg_match('/^[0-9A-Fa-f]{64}$/D', $digits) ? new self(false, (string) hex2bin($digits)) : new self(true, $told);
    }

    /** @throws UnusableInput when the file can't be read or holds nothing */
    public static function fromFile(string $path): self
    {
        $told = is_file($path) ? @file_get_contents($path, false, null, 0, 4096) : false;
        $line = false === $told ? '' : rtrim(strtok($told, "\n") ?: '', "\r");

        return '' === $line ? throw UnusableInput::unreadable($path) : self::of($line);
    }
}
