<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\LocalBackup;
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
 * @phpstan-import-type Own from Holding
 * @phpstan-import-type OwnCounts from Holding
 */
final readonly class Looks
{
    /** Looks that end in something unexpected are not begun for ever. */
    public const TRIES = 3;
    /** Who looks, in the log. */
    private const BY = 'bench';
    /** Seconds: a change mark of this very moment is not to be relied on. */
    private const YOUNG = 2;
    /** Open backups that one look goes into. */
    private const LOOKED_INTO = 5;
    /** Bytes: what is larger is taken over the cable only when it is asked for. */
    private const LOOKED_INTO_BYTES = 200_000_000;

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
        $own = $this->ownBackups($link, $app);
        try {
            $counts = $this->count($link, $app);
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            throw $hindrance;
        } catch (\RuntimeException $error) {
            $trouble = $this->told($error, $link);
        }
        $this->records->change(function () use ($link, $app, $mark, $isYoung, $counts, $trouble, $own): void {
            // The tray may have been closed meanwhile.
            $holding = $this->phones->holding($link->serial(), $app);
            if (null === $holding) {
                return;
            }
            $holding->own($own);
            if (null !== $counts) {
                // Written to just now: the next write could leave the same mark, so that it counts as an old one soon.
                $holding->looked($isYoung ? $mark.'~' : $mark, $counts);
            } elseif (null !== $trouble) {
                $isWorthAnother = 'look_failed' === $trouble[0] && $holding->tries() < self::TRIES;
                $holding->lookFailed($isWorthAnother ? null : $mark, ...$trouble);
            }
        });
    }

    /** @return array{string, array<string, string|int>} a code under "failure" in translations/, with its parameters */
    private function told(\RuntimeException $error, PhoneLink $link): array
    {
        if (!$error instanceof UnusableInput) {
            $this->logger->error('A look at a phone failed.', ['serial' => $link->serial(), 'exception' => $error]);
        }

        return $error instanceof Failure ? [$error->reason, $error->fields] : ['look_failed', []];
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
        $newest = $chats->newestUpTo(self::soon());
        $isUncounted = $chats->isLossUncounted();
        $chats->close();
        $scratch->remove();

        return [
            'number' => mb_substr(mb_scrub($account), 0, 40), 'conversations' => $summary['conversations'],
            'messages' => $summary['messages'], 'attachments' => $summary['attachments'],
            'attachment_bytes' => $summary['attachment_bytes'], 'newest_at' => $newest, 'lost' => $summary['lost'],
            'loss_uncounted' => $isUncounted,
        ];
    }

    /**
     * Differs once the files that hold the app's chats do; a look at a few files' sizes and times.
     *
     * @return array{mark: string, changed_at: int, bytes: int, over_cable: bool} s since 1970 UTC, as the phone's clock
     *                                                                            has it; bytes of those files; whether
     *                                                                            they lie open
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
        $isOpen = [] !== $marks;
        foreach ($this->reader->ownFiles($link, $app) as $path => ['file' => $file]) {
            $marks[] = $path.':'.$file->bytes.':'.$file->changed;
            // Packed, to about half.
            $bytes = $isOpen || $bytes > 0 ? $bytes : 2 * $file->bytes;
        }

        return [
            'mark' => hash('xxh128', implode("\0", $marks)), 'changed_at' => $changedAt, 'bytes' => $bytes,
            'over_cable' => $isOpen,
        ];
    }

    /**
     * The messenger's own backups on a phone. Those that nobody locked are looked into, each once, the newest of them.
     *
     * @return list<Own>
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function ownBackups(PhoneLink $link, string $app): array
    {
        $known = [];
        foreach ($this->phones->holding($link->serial(), $app)?->localBackups() ?? [] as $own) {
            $known[$own['path']."\0".$own['changed']] = $own;
        }
        $found = [];
        $looks = 0;
        foreach ($this->reader->localBackups($link, $app) as $own) {
            $counts = $known[$own->path."\0".$own->changed]['counts'] ?? null;
            $trouble = $known[$own->path."\0".$own->changed]['trouble'] ?? null;
            $params = $known[$own->path."\0".$own->changed]['trouble_params'] ?? [];
            if (BackupLock::Open === $own->lock && null === ($counts ?? $trouble)
                && $own->bytes <= self::LOOKED_INTO_BYTES && ++$looks <= self::LOOKED_INTO) {
                try {
                    $counts = $this->countOwn($link, $app, $own);
                } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
                    throw $hindrance;
                } catch (\RuntimeException $error) {
                    [$trouble, $params] = $this->told($error, $link);
                }
            }
            $found[] = [
                'path' => $own->path, 'changed' => $own->changed, 'made_at' => $own->madeAt, 'bytes' => $own->bytes,
                'lock' => $own->lock?->value, 'attachments' => $own->attachments,
                'attachment_bytes' => $own->attachmentBytes, 'videos' => $own->videos, 'counts' => $counts,
                'trouble' => $trouble, 'trouble_params' => $params,
            ];
        }

        return $found;
    }

    /**
     * @return OwnCounts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     */
    private function countOwn(PhoneLink $link, string $app, LocalBackup $own): array
    {
        $scratch = ScratchFolder::make();
        $path = $scratch->path.'/'.Schema::FILE_NAME;
        $this->reader->readOwn($link, $app, $own, $path, new NoProgress());
        $chats = new ChatStore($path);
        $summary = $chats->summary();
        $newest = $chats->newestUpTo(self::soon());
        $chats->close();

        return [
            'conversations' => $summary['conversations'], 'messages' => $summary['messages'], 'newest_at' => $newest,
        ];
    }

    /** @return int milliseconds since 1970 UTC: a message from the future would hide how old the rest is */
    public static function soon(): int
    {
        return (time() + 86_400) * 1000;
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
