<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Messenger\BeyondLimits;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\Sending;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/**
 * Brings the names of people onto a phone, so that its chats show them. Its address book is put in place like the data
 * of an app: staged beside what is there, held against its hash, swapped in, and read back.
 *
 * @phpstan-type NamesBrought array{brought: int, there: int, nameless: int, unreadable: int}
 */
final readonly class Names
{
    public const APP = 'contacts';
    public const FILE = 'contacts.vcf';
    private const MOST_BYTES = 24_000_000;

    public function __construct(private BookApart $apart)
    {
    }

    /**
     * @param string                       $stage names this bringing; the same name goes on with it
     * @param callable(NamesBrought): void $note  is told before the phone is changed: whoever is interrupted behind
     *                                            that finds everybody there, and knows by it who was brought
     *
     * @return NamesBrought|null null where the phone lets nobody at its address book, or has too much in it
     *
     * @throws PhoneRefuses  when it changed meanwhile
     * @throws DiskFull
     * @throws DiskFailure
     * @throws UnusableInput when what was kept of it before is spoilt
     */
    public function bring(
        PhoneLink $link,
        Shown $shown,
        string $stage,
        Progress $progress,
        callable $note,
    ): ?array {
        $progress->phase('contacts');
        [$seen, $text] = self::seen($link);
        if (null === $text) {
            return null;
        }
        try {
            ['added' => $added, 'counts' => $counts] = $this->added($text, $shown);
        } catch (BeyondLimits) {
            return null;
        }
        if ('' !== $added) {
            if (null !== $shown->copy) {
                KeptBook::keep($shown->copy, $text, $added);
            }
            $note($counts);
            self::put($link, KeptBook::joined($text, $added), $stage, $seen);
        }

        return $counts;
    }

    /**
     * Takes out of the address book what was added to it. What it holds now is kept first; whom another account on the
     * phone shows by that name, too, stays there, and goes with that one.
     *
     * @param Staging     $to     its name is this putting back's
     * @param KeptBook    $kept   of before
     * @param TagFiles    $copy   of the safety copy that was taken for it
     * @param list<Shown> $others accounts whose people's names were brought onto the phone, and stay
     *
     * @return array{taken: int, stay: int, needed: int}|null null where the phone lets nobody at it any more, or has
     *                                                        too much in it
     *
     * @throws PhoneRefuses  when it changed meanwhile
     * @throws DiskFull
     * @throws DiskFailure
     * @throws UnusableInput when what was kept of it before is spoilt
     */
    public function takeOut(
        Staging $to,
        KeptBook $kept,
        TagFiles $copy,
        array $others,
        Progress $progress,
    ): ?array {
        [$link, $stage] = [$to->link, $to->name];
        $progress->phase('contacts');
        [$seen, $text] = self::seen($link);
        if (null === $text) {
            return null;
        }
        $cards = [];
        foreach ($others as $number => $other) {
            try {
                $cards[$number] = $this->added('', $other)['added'];
            } catch (BeyondLimits) {
                return null;
            }
        }
        [
            'text' => $without, 'taken' => $taken, 'stay' => $stay, 'needed' => $needed,
        ] = $kept->without($text, implode('', $cards));
        foreach ($others as $number => $other) {
            $theirs = KeptBook::among($needed, $cards[$number]);
            if (null !== $other->copy && '' !== $theirs) {
                KeptBook::takeOver($other->copy, $kept->without($text)['text'], $theirs);
            }
        }
        if ($without !== $text) {
            KeptBook::keep($copy, $text, '');
            self::put($link, $without, $stage, $seen);
        }

        return ['taken' => $taken, 'stay' => $stay, 'needed' => substr_count($needed, "\r\nEND:VCARD\r\n")];
    }

    /**
     * @return array{added: string, counts: NamesBrought}
     *
     * @throws BeyondLimits
     * @throws DiskFull
     * @throws DiskFailure
     */
    private function added(string $text, Shown $shown): array
    {
        return $this->apart->add($text, $shown->chats->people(), $shown->ownNumber);
    }

    /** @return array{string, string|null} its mark, and what it holds: null where nobody may know, or it is too much */
    private static function seen(PhoneLink $link): array
    {
        try {
            // Seen before it is read: what is written meanwhile has changed it.
            return [$link->mark(self::APP), self::read($link)];
        } catch (PhoneRefuses $refusal) {
            return 'no_app' === $refusal->reason ? ['', null] : throw $refusal;
        }
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
        $link->push(self::APP, $stage, self::FILE, new Sending($source));
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
