<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;

/**
 * Brings the names of people onto a phone, so that its chats show them. Its address book is put in place like the data
 * of an app: staged beside what is there, held against its hash, swapped in, and read back.
 *
 * @phpstan-type NamesBrought array{brought: int, there: int, nameless: int, unreadable: int}
 */
final class Names
{
    public const APP = 'contacts';
    public const FILE = 'contacts.vcf';
    private const MOST_BYTES = 24_000_000;

    /**
     * @param string                       $stage     names this bringing; the same name goes on with it
     * @param string                       $ownNumber of the account, E.164
     * @param callable(NamesBrought): void $note      is told before the phone is changed: whoever is interrupted behind
     *                                                that finds everybody there, and knows by it who was brought
     *
     * @return NamesBrought|null null where the phone lets nobody at its address book, or has too much in it
     *
     * @throws PhoneRefuses when it changed meanwhile
     */
    public static function bring(
        PhoneLink $link,
        ChatStore $chats,
        string $ownNumber,
        string $stage,
        Progress $progress,
        callable $note,
    ): ?array {
        $progress->phase('contacts');
        try {
            // Seen before it is read: what is written meanwhile has changed it.
            $seen = $link->mark(self::APP);
            $text = self::read($link);
        } catch (PhoneRefuses $refusal) {
            return 'no_app' === $refusal->reason ? null : throw $refusal;
        }
        if (null === $text) {
            return null;
        }
        $book = new AddressBook($text, $ownNumber);
        foreach ($chats->people() as $person) {
            $book->add($person);
        }
        $whole = $book->text();
        if ($whole !== $text) {
            $note($book->counts());
            self::put($link, $whole, $stage, $seen);
        }

        return $book->counts();
    }

    /** @return string|null null where it is too much */
    private static function read(PhoneLink $link): ?string
    {
        $file = $link->file(self::APP, self::FILE);
        if (null === $file) {
            return '';
        }
        if ($file->bytes > self::MOST_BYTES) {
            return null;
        }
        $sink = self::temporary();
        ['bytes' => $bytes] = $link->pull(self::APP, self::FILE, $sink, static fn (int $bytes) => null);
        rewind($sink);
        $text = (string) stream_get_contents($sink);

        return $bytes === $file->bytes && strlen($text) === $bytes ? $text : throw PhoneRefuses::changedMeanwhile();
    }

    private static function put(PhoneLink $link, string $whole, string $stage, string $seen): void
    {
        $source = self::temporary();
        if (fwrite($source, $whole) !== strlen($whole)) {
            throw new \RuntimeException('The address book could not be held.');
        }
        rewind($source);
        $link->push(self::APP, $stage, self::FILE, $source, static fn (int $bytes) => null);
        self::keepTheRest($link, $stage);
        if ($link->stagedHash(self::APP, $stage, self::FILE) !== hash('sha256', $whole)) {
            $link->dropStage(self::APP, $stage);
            throw PhoneRefuses::changedMeanwhile();
        }
        $link->swap(self::APP, $stage, $seen);
        if (self::read($link) !== $whole) {
            throw PhoneRefuses::changedMeanwhile();
        }
    }

    /** What else lies in the address book comes along, as it is: the stage takes the place of all of it. */
    private static function keepTheRest(PhoneLink $link, string $stage): void
    {
        foreach ($link->files(self::APP) as $file) {
            if (self::FILE === $file->path) {
                continue;
            }
            $sink = self::temporary();
            $pulled = $link->pull(self::APP, $file->path, $sink, static fn (int $bytes) => null);
            fclose($sink);
            if ($pulled['bytes'] !== $file->bytes
                || !$link->takeOver(self::APP, $stage, $file->path, $pulled['sha256'])) {
                $link->dropStage(self::APP, $stage);
                throw PhoneRefuses::changedMeanwhile();
            }
        }
    }

    /** @return resource */
    private static function temporary(): mixed
    {
        $stream = fopen('php://temp', 'w+');

        return false === $stream ? throw new \RuntimeException('There is no room for an address book.') : $stream;
    }
}
