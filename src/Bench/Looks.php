<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\UnusableInput;
use Psr\Log\LoggerInterface;

/**
 * Looks at what an app on a phone holds, for workers alone: so swapped roles are seen before anything is written, and
 * no page reads what somebody else wrote.
 *
 * @phpstan-import-type Counts from Holding
 */
final readonly class Looks
{
    /** Looks that end in something unexpected are not begun for ever. */
    public const TRIES = 3;
    /** Who looks, in the log. */
    private const BY = 'bench';
    /** Seconds: a change mark of this very moment is not to be relied on. */
    private const YOUNG = 2;

    public function __construct(
        private PhoneChats $reader,
        private Formats $formats,
        private Phones $phones,
        private EntityManagerInterface $entities,
        private Records $records,
        private ShopLog $log,
        private LoggerInterface $logger,
    ) {
    }

    /**
     * Looks and keeps what was seen, of a phone in an open tray.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function look(PhoneLink $link, string $app): void
    {
        if (null === $this->begin($link->serial(), $app)) {
            return;
        }
        // Marked before it is read: what comes in while we read has changed it.
        ['mark' => $mark, 'changed_at' => $changedAt] = $this->mark($link, $app);
        $isYoung = time() - $changedAt <= self::YOUNG;
        $counts = $trouble = null;
        try {
            $counts = $this->count($link, $app);
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            throw $hindrance;
        } catch (UnusableInput $unusable) {
            $trouble = [$unusable->reason, $unusable->fields];
        } catch (\RuntimeException $error) {
            $this->logger->error('A look at a phone failed.', ['serial' => $link->serial(), 'exception' => $error]);
            $trouble = $error instanceof Failure ? [$error->reason, $error->fields] : ['look_failed', []];
        }
        $this->records->change(function () use ($link, $app, $mark, $isYoung, $counts, $trouble): void {
            // The tray may have been closed meanwhile.
            $holding = $this->phones->holding($link->serial(), $app);
            if (null === $holding) {
                return;
            }
            if (null !== $counts) {
                // Written to just now: the next write could leave the same mark, so that it counts as an old one soon.
                $holding->looked($isYoung ? $mark.'~' : $mark, $counts);
            } elseif (null !== $trouble) {
                $isWorthAnother = 'look_failed' === $trouble[0] && $holding->tries() < self::TRIES;
                $holding->lookFailed($isWorthAnother ? null : $mark, ...$trouble);
            }
        });
    }

    /**
     * Read from the phone at this moment.
     *
     * @return Counts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     * @throws \RuntimeException when the reading ends in something unexpected
     */
    public function count(PhoneLink $link, string $app): array
    {
        $scratch = ScratchFolder::make();
        $path = $scratch->path.'/'.Schema::FILE_NAME;
        $this->reader->read($link, $app, $path, false, new NoProgress());
        $chats = new ChatStore($path);
        $summary = $chats->summary();
        $account = $chats->source()->account;
        // A message from the future would hide how old the rest is.
        $newest = $chats->newestUpTo((time() + 86_400) * 1000);
        $chats->close();
        $scratch->remove();

        return [
            'number' => mb_substr(mb_scrub($account), 0, 40), 'conversations' => $summary['conversations'],
            'messages' => $summary['messages'], 'attachments' => $summary['attachments'],
            'attachment_bytes' => $summary['attachment_bytes'], 'newest_at' => $newest,
        ];
    }

    /**
     * Differs once the files that hold the app's chats do; a look at a few files' sizes and times.
     *
     * @return array{mark: string, changed_at: int, bytes: int} s since 1970 UTC, as the phone's clock has it; bytes of
     *                                                          those files
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function mark(PhoneLink $link, string $app): array
    {
        $marks = [];
        $changedAt = $bytes = 0;
        foreach ($this->reader->chatFiles($link, $app) as $file) {
            $marks[] = $file->path.':'.$file->bytes.':'.$file->changed;
            $changedAt = max($changedAt, $file->changedAt);
            $bytes += $file->bytes;
        }
        $sealed = $this->reader->sealed($link, $app);
        $marks[] = null === $sealed ? '-' : $sealed->bytes.':'.$sealed->changed;

        // A sealed backup is compressed, to about half.
        $bytes = null === $sealed ? $bytes : 2 * $sealed->bytes;

        return ['mark' => hash('xxh128', implode("\0", $marks)), 'changed_at' => $changedAt, 'bytes' => $bytes];
    }

    /**
     * The sealed backup that an app's chats lie in, with the bytes of the files beside it; null where they lie open.
     *
     * @return array{sealed: array{bytes: int, made_at: int|null}, beside: int}|null
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function sealed(PhoneLink $link, string $app): ?array
    {
        $sealed = $this->reader->sealed($link, $app);
        if (null === $sealed) {
            return null;
        }
        $beside = 0;
        foreach ($link->files($app) as $file) {
            $beside += $file->path === $sealed->path ? 0 : $file->bytes;
        }

        return ['sealed' => ['bytes' => $sealed->bytes, 'made_at' => $sealed->changedAt], 'beside' => $beside];
    }

    /**
     * What a phone in an open tray holds: that its owner consents is a condition of opening one. That it is looked into
     * is in the log before anything is read.
     *
     * @return Holding|null null of a phone in no open tray: it is not looked into
     */
    public function begin(string $serial, string $app): ?Holding
    {
        return $this->records->change(function () use ($serial, $app): ?Holding {
            $tray = $this->phones->traysOf([$serial])[$serial] ?? null;
            if (null === $tray) {
                return null;
            }
            $holding = $this->phones->holding($serial, $app);
            if (null === $holding) {
                $holding = new Holding($serial, $app);
                $this->entities->persist($holding);
                $edition = $this->formats->apps()[$app]->edition ?? $app;
                $this->log->noteWithFlush(self::BY, 'looked_into', $tray, ['serial' => $serial, 'edition' => $edition]);
            }

            return $holding;
        });
    }
}
