<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What was given can't be read as chats. The message says what, where and what to do now, in one line. */
class UnusableInput extends \RuntimeException
{
    public static function notThere(string $path): self
    {
        return new self(sprintf('There is nothing at %s. Check the path.', $path));
    }

    public static function notMessengerData(string $path): self
    {
        return new self(sprintf('%s holds no messenger data that Geschenk knows, no backup and no chat store. Give the data folder of a messenger, a backup folder or a chat store file.', $path));
    }

    public static function unknownGeneration(string $path, string $messenger, int $generation, string $known): self
    {
        return new self(sprintf('%s is %s data of storage generation %d; Geschenk reads %s. Update Geschenk, or the messenger on the phone.', $path, $messenger, $generation, $known));
    }

    public static function notSqlite(string $path): self
    {
        return new self(sprintf('%s is not an SQLite database: its first bytes are something else. Pull it from the phone again.', $path));
    }

    public static function otherEncoding(string $path): self
    {
        return new self(sprintf('%s keeps its texts in UTF-16, which no messenger that Geschenk knows does. Pull it from the phone again; if it stays so, it is of another app.', $path));
    }

    public static function cutShort(string $path, int $found, int $promised): self
    {
        return new self(sprintf('%s is cut short: it has %d bytes and its header promises %d. Pull it from the phone again.', $path, $found, $promised));
    }

    public static function damaged(string $path, string $detail): self
    {
        return new self(sprintf('%s is damaged: %s. Pull it from the phone again; if it stays so, the phone\'s own copy is damaged.', $path, preg_replace('/\s+/', ' ', rtrim($detail, '. ')) ?? ''));
    }

    /** @param \Throwable $error what could not be made of a value; its words are for the log alone */
    public static function unexpected(string $path, \Throwable $error): self
    {
        return new self(sprintf('%s holds something in a place where Geschenk can\'t do without another value, and nothing of it was taken over. Have the messenger make a new backup, and tell the makers of Geschenk.', $path), 0, $error);
    }

    public static function sealedWrongKey(string $path): self
    {
        return new self(sprintf('%s was sealed with another key or password. Ask the customer for the one that this backup was made with; a newer one does not open it.', $path));
    }

    public static function sealedOtherSort(string $path, bool $wantsPassword): self
    {
        return new self(sprintf('%s was sealed with %s. Ask the customer for that.', $path, $wantsPassword ? 'a password and not with 64 digits' : 'a key of 64 digits and not with a password'));
    }

    public static function sealedNeedsKey(string $path): self
    {
        return new self(sprintf('%s is a sealed backup. Give its key of 64 digits or its password in a file, with --key-file.', $path));
    }

    public static function sealedOnPhone(): self
    {
        return new self('The messenger keeps its chats on the phone in a sealed backup only. Ask the customer for the 64 digits or the password that it was made with, and type them in.');
    }

    public static function sealedCut(string $path, int $found, int $promised): self
    {
        return new self(sprintf('%s ends too early: it has %d bytes and should have %d. Pull it from the phone again.', $path, $found, $promised));
    }

    public static function sealedChanged(string $path): self
    {
        return new self(sprintf('%s is not as it was sealed: bytes of it were changed on the way. Pull it from the phone again; if it stays so, have the messenger make a new backup.', $path));
    }

    public static function emptyKeyFile(string $path): self
    {
        return new self(sprintf('%s has nothing in its first line. Write the key of 64 digits or the password there.', $path));
    }

    public static function sealedUnknownSort(string $path): self
    {
        return new self(sprintf('%s was sealed in a way that Geschenk does not know, neither with 64 digits nor with a password. Update Geschenk, or have the messenger make a new backup.', $path));
    }

    public static function sealedTooLarge(string $path, int $most): self
    {
        return new self(sprintf('%s unpacks to more than %s MB, far more than a backup of its size can hold. It is damaged, or was made to do harm. Have the messenger make a new backup.', $path, number_format($most / 1e6)));
    }

    public static function unreadable(string $path): self
    {
        return new self(sprintf('%s can\'t be read. Check its permissions.', $path));
    }

    public static function backupBroken(string $path, string $detail): self
    {
        return new self(sprintf('The backup at %s is not whole: %s. Don\'t restore from it; take a new backup.', $path, rtrim($detail, '. ')));
    }

    public static function noWriter(string $messenger, string $platform): self
    {
        return new self(sprintf('Geschenk can\'t write %s for %s. Choose another target platform.', $messenger, $platform));
    }

    public static function alreadyThere(string $path): self
    {
        return new self(sprintf('%s exists already and is left as it is. Give a path that is free.', $path));
    }
}
