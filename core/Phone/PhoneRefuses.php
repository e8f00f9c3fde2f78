<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** The phone is connected and does not let this computer do what it asked. The message says what to do on the phone. */
final class PhoneRefuses extends \RuntimeException
{
    public static function notAllowed(): self
    {
        return new self('The phone does not let this computer in. Unlock it and allow this computer.');
    }

    public static function noApp(string $app): self
    {
        return new self(sprintf('The messenger %s is not on the phone. Install it and register it.', $app));
    }

    public static function noFile(string $path): self
    {
        return new self(sprintf('The phone no longer has the file %s.', $path));
    }

    public static function full(int $needed, int $free): self
    {
        return new self(sprintf('The phone has not enough space: %s MB are needed and %s MB are free. Free some space on it.', number_format($needed / 1e6, 1), number_format($free / 1e6, 1)));
    }

    public static function changedMeanwhile(): self
    {
        return new self('The messenger wrote to its chats after they were looked at. Close it on the phone; they are looked at again before anything is replaced.');
    }

    public static function noStage(string $stage): self
    {
        return new self(sprintf('The phone no longer has what was brought to it for %s. It is brought again.', $stage));
    }

    public static function stillWriting(): self
    {
        return new self('The messenger keeps writing while its chats are read. Close it on the phone and go on.');
    }
}
