<?php

declare(strict_types=1);

namespace Geschenk\Core\WayIn\LocalBackup;

use Geschenk\Core\Files\Content\HeadSink;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\LocalBackups;
use Geschenk\Core\Phone\FileUnreadable;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\Transfer\Fetching;
use Geschenk\Core\Transfer\Glance;
use Geschenk\Core\Transfer\LinkFiles;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\Pull;
use Geschenk\Core\Transfer\SteadyPull;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\Transfer\WayIn;
use Geschenk\Core\UnusableInput;

/** Out of a backup that the messenger made of itself on the phone: locked or open, with attachments beside it. */
final readonly class LocalBackupWay implements WayIn
{
    /** Seconds since 1970 UTC: the end of the year 9999, behind which no clock of a phone is right. */
    private const LATEST = 253_402_300_799;
    /** Such files are packed, to about half. */
    private const PACKED = 2;
    /** What it is called where its own path says nothing to anybody. */
    private const NAME = '@local_backup';

    public function __construct(private PhoneChats $chats, private ChatReading $reading, private Formats $formats)
    {
    }

    public static function name(): string
    {
        return 'local_backup';
    }

    public function offers(PhoneLink $link, string $app): array
    {
        $files = $this->chats->localBackupFiles($link, $app);
        $beside = $this->beside($link, $app, array_keys($files));
        $offers = [];
        foreach ($files as $path => ['file' => $file, 'format' => $format]) {
            $offers[] = new Offer(
                self::name(), $path, $file->changed, max(0, min($file->changedAt, self::LATEST)), $file->bytes,
                $format->lockOf($this->head($link, $app, $path)), ...$beside[$path],
            );
        }

        return $offers;
    }

    public function glance(PhoneLink $link, string $app): Glance
    {
        $marks = [];
        $bytes = null;
        foreach ($this->chats->localBackupFiles($link, $app) as $path => ['file' => $file]) {
            $marks[] = $path.':'.$file->bytes.':'.$file->changed;
            $bytes ??= self::PACKED * $file->bytes;
        }

        return new Glance($marks, 0, $bytes);
    }

    public function canBeMade(PhoneState $phone, string $app): bool
    {
        foreach ($this->formats->of($app, $phone->platform) as $format) {
            if ($format instanceof LocalBackups) {
                return true;
            }
        }

        return false;
    }

    public function steps(): array
    {
        return [];
    }

    public function switches(PhoneState $phone, string $app): array
    {
        return [];
    }

    public function lookInto(Taking $taking, string $path, Progress $progress): void
    {
        $scratch = ScratchFolder::make();
        $unpacked = $scratch->path.'/unpacked';
        $this->unpack($taking, $scratch->path, $unpacked, static fn (int $bytes) => null);
        $files = new LinkFiles($taking->link, $taking->app, false, self::above($taking->offer));
        $this->reading->read($unpacked, $files, $path, $progress, self::NAME);
    }

    public function bytes(Taking $taking): int
    {
        $bytes = 0;
        $above = self::above($taking->offer);
        foreach ($taking->link->files($taking->app) as $file) {
            $bytes += str_starts_with($file->path, $above) ? $file->bytes : 0;
        }

        return $bytes;
    }

    public function fetch(Fetching $fetching): Fetched
    {
        $link = $fetching->taking->link;
        $app = $fetching->taking->app;
        $above = self::above($fetching->taking->offer);
        $isChats = $this->chats->apart($link, $app);
        $isKeptApart = $this->chats->keptApart($link, $app);
        $localBackupFiles = $this->chats->localBackupFiles($link, $app);
        $isWanted = static fn (string $path): bool => !isset($localBackupFiles[$above.$path]) && !$isChats($path)
            && ('' !== $above || !$isKeptApart($path));

        return (new SteadyPull($fetching, $above, $isWanted))->pull(
            // What the messenger has made stays as it is, whatever comes in meanwhile.
            static fn (): string => $link->file($app, $fetching->taking->offer->path)->changed ?? '',
            function (callable $onBytes) use ($fetching): array {
                // Opened before anything else is pulled, so that a wrong key shows at once; its database is not kept.
                $unpacked = ScratchFolder::make();
                $this->unpack($fetching->taking, $fetching->place->raw(), $unpacked->path, $onBytes);

                return [$unpacked, []];
            },
        );
    }

    /** The folder that its attachments lie below as they do below the app's data; with its slash, or empty. */
    private static function above(Offer $offer): string
    {
        return str_contains($offer->path, '/') ? dirname($offer->path).'/' : '';
    }

    /**
     * Pulls the file with the chats and opens it.
     *
     * @param string              $folder   where it is kept as it was
     * @param string              $unpacked where its database goes
     * @param callable(int): void $onBytes
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput when it is gone, the key does not open it, or it is damaged
     */
    private function unpack(Taking $taking, string $folder, string $unpacked, callable $onBytes): void
    {
        $path = $taking->offer->path;
        if (!isset($this->chats->localBackupFiles($taking->link, $taking->app)[$path])) {
            throw UnusableInput::localBackupGone();
        }
        $target = $folder.'/'.basename($path);
        $pulled = (new Pull($taking->link, $taking->app, $onBytes))->file($path, $target);
        if (!$pulled->isWhole) {
            throw UnusableInput::sealedCut(self::NAME, $pulled->bytes, $pulled->listed);
        }
        $this->reading->unpack($target, $taking->key, $unpacked, self::NAME);
    }

    /**
     * What lies beside the chats of each of them.
     *
     * @param list<string> $paths of the files with the chats
     *
     * @return array<string, array{attachments: int, attachmentBytes: int, videos: int}> by path
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function beside(PhoneLink $link, string $app, array $paths): array
    {
        $beside = array_fill_keys($paths, ['attachments' => 0, 'attachmentBytes' => 0, 'videos' => 0]);
        if ([] === $paths) {
            return [];
        }
        $isKeptApart = $this->chats->keptApart($link, $app);
        $isApart = $this->chats->apart($link, $app);
        $formats = $this->chats->withBackups($link, $app);
        $byFolder = [];
        foreach ($paths as $path) {
            $byFolder[self::above(new Offer(self::name(), $path))] = $path;
        }
        foreach ($link->files($app) as $file) {
            foreach ($byFolder as $above => $path) {
                $here = substr($file->path, strlen($above));
                $isIts = '' === $above
                    ? !$isKeptApart($here) && !$isApart($here)
                    : str_starts_with($file->path, $above);
                if ($isIts && !isset($beside[$file->path])) {
                    $isVideo = [] !== array_filter(
                        $formats, static fn (LocalBackups $format): bool => $format->isVideo($here),
                    );
                    $beside[$path] = [
                        'attachments' => $beside[$path]['attachments'] + 1,
                        'attachmentBytes' => $beside[$path]['attachmentBytes'] + $file->bytes,
                        'videos' => $beside[$path]['videos'] + (int) $isVideo,
                    ];
                }
            }
        }

        return $beside;
    }

    /** First bytes of a file, with no more of it coming over the cable than has to. */
    private function head(PhoneLink $link, string $app, string $path): string
    {
        $sink = HeadSink::open();
        try {
            $link->pull($app, $path, $sink, static fn (int $bytes) => throw new HeadRead());
            // @phpstan-ignore catch.neverThrown (it comes out of what is called with each piece)
        } catch (HeadRead|FileUnreadable) {
        }
        $head = HeadSink::headOf($sink);
        fclose($sink);

        return $head;
    }
}
