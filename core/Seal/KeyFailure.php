<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Failure;

/** What is sealed is whole, as far as anybody can tell, and there is no key that opens it. */
final class KeyFailure extends Failure
{
    /** Nobody has told the shop's key since it was started. */
    public static function notTold(): self
    {
        return new self('key_not_told');
    }

    /** What was told as the shop's key is not the one that its data keys are under. */
    public static function wrong(): self
    {
        return new self('key_wrong');
    }

    /** The keyring is gone, or it has no key for this: nobody can open it any more. */
    public static function lost(): self
    {
        return new self('key_lost');
    }

    /** Whether no key that anybody could tell opens it. */
    public function isFinal(): bool
    {
        return in_array($this->reason, ['key_lost', 'keyring_broken'], true);
    }

    /** The keyring is not as it was written. */
    public static function ringBroken(string $path): self
    {
        return new self('keyring_broken', ['path' => $path]);
    }

    /** @param int $bytes that a key file has at least */
    public static function tooShort(string $path, int $bytes): self
    {
        return new self('key_file_short', ['path' => $path, 'bytes' => $bytes]);
    }

    /** A key file that was named is not there, or can't be read. */
    public static function noFile(string $path): self
    {
        return new self('key_file_gone', ['path' => $path]);
    }

    /** There is a keyring already: its key is changed, and never made anew. */
    public static function madeAlready(): self
    {
        return new self('key_made_already');
    }

    /** It is under its customer's own password. */
    public static function needsPassword(): self
    {
        return new self('backup_locked');
    }

    public static function wrongPassword(): self
    {
        return new self('backup_password_wrong');
    }
}
