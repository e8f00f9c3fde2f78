<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\DataFolder;
use Geschenk\App\Work\LookAtPhone;
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneChats;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema;
use Symfony\Component\Messenger\MessageBusInterface;

/**
 * What a phone holds, so that swapped roles are seen before anything is written. A worker looks; pages read what it saw
 * last, and have it look again when the phone's chats have changed since.
 *
 * @phpstan-type Counts array{number: string, conversations: int, messages: int, attachments: int, attachment_bytes: int, newest_at: int|null}
 */
final readonly class Holdings
{
    /** Seconds after which a look that was asked for is asked for again. */
    private const PATIENCE = 30;
    /** Looks that end in something unexpected are not begun for ever. */
    private const TRIES = 3;
    /** Seconds: a change mark of this very moment is not to be relied on. */
    private const YOUNG = 2;

    public function __construct(private PhoneChats $reader, private Formats $formats, private DataFolder $data, private MessageBusInterface $bus)
    {
    }

    /**
     * As last seen, if the phone's database has not changed since.
     *
     * @return Counts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     * @throws NotLookedYet
     */
    public function read(PhoneLink $link, string $app): array
    {
        ['path' => $path] = $this->notes($link, $app);
        $seen = self::note($path);
        if (null === $seen || $seen['until'] < time()) {
            $asked = $path.'.asked';
            clearstatcache(true, $asked);
            if (!is_file($asked) || filemtime($asked) < time() - self::PATIENCE) {
                touch($asked);
                $this->bus->dispatch(new LookAtPhone($link->serial(), $app));
                $seen = self::note($path) ?? $seen;
            }
        }
        if (null === $seen) {
            throw new NotLookedYet($link->serial());
        }

        return $seen['counts'] ?? throw new UnusableInput($seen['why'] ?? 'The phone can’t be read.');
    }

    /**
     * Looks at the phone and keeps what it saw: for a worker.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function look(PhoneLink $link, string $app): void
    {
        ['path' => $path, 'changed_at' => $changedAt] = $this->notes($link, $app);
        $tries = (self::note($path)['tries'] ?? 0) + 1;
        if ($tries > self::TRIES && null === (self::note($path)['counts'] ?? null)) {
            return;
        }
        $seen = ['counts' => null, 'why' => null, 'tries' => $tries, 'until' => \PHP_INT_MAX];
        try {
            $seen['counts'] = $this->readNow($link, $app);
            // Written to just now: the next write could leave the same marks.
            $seen['until'] = time() - $changedAt <= self::YOUNG ? time() + self::YOUNG : \PHP_INT_MAX;
        } catch (UnusableInput $unusable) {
            $seen['why'] = $unusable->getMessage();
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            @unlink($path.'.asked');
            throw $hindrance;
        } catch (\RuntimeException $error) {
            $seen = ['why' => 'What the phone holds could not be read; the log says why.', 'until' => time() + self::PATIENCE] + $seen;
        }
        foreach (glob($this->data->holdings().'/'.$link->serial().'-'.$app.'-*') ?: [] as $earlier) {
            @unlink($earlier);
        }
        Disk::put($path, json_encode($seen, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE));
    }

    /**
     * The sealed backup that a phone holds its chats in; null where they lie open.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function sealed(PhoneLink $link, string $app): ?PhoneFile
    {
        return $this->reader->sealed($link, $app);
    }

    /** What its attachments would take on the receiving phone; null while that can't be seen. */
    public function attachmentBytes(PhoneLink $link, string $app): ?int
    {
        try {
            try {
                return $this->read($link, $app)['attachment_bytes'];
            } catch (UnusableInput) {
                return $this->bytesBesideSealed($link, $app);
            }
        } catch (PhoneUnplugged|PhoneRefuses|NotLookedYet) {
            return null;
        }
    }

    /**
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function bytesBesideSealed(PhoneLink $link, string $app): ?int
    {
        $sealed = $this->sealed($link, $app);
        if (null === $sealed) {
            return null;
        }
        $bytes = 0;
        foreach ($link->files($app) as $file) {
            $bytes += $file->path === $sealed->path ? 0 : $file->bytes;
        }

        return $bytes;
    }

    /**
     * Read from the phone at this moment: for a worker.
     *
     * @return Counts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     * @throws \RuntimeException    when the reading ends in something unexpected
     */
    public function readNow(PhoneLink $link, string $app): array
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

        return ['number' => $account, 'conversations' => $summary['conversations'], 'messages' => $summary['messages'], 'attachments' => $summary['attachments'], 'attachment_bytes' => $summary['attachment_bytes'], 'newest_at' => $newest];
    }

    /**
     * Where it is kept what was seen of the phone's chats as they are now.
     *
     * @return array{path: string, changed_at: int}
     */
    private function notes(PhoneLink $link, string $app): array
    {
        $marks = [];
        $changedAt = 0;
        foreach ($this->formats->databaseFiles() as $path) {
            $file = $link->file($app, $path);
            $marks[] = null === $file ? '-' : $file->bytes.':'.$file->changed;
            $changedAt = max($changedAt, $file->changedAt ?? 0);
        }
        $sealed = $this->reader->sealed($link, $app);
        $marks[] = null === $sealed ? '-' : $sealed->bytes.':'.$sealed->changed;

        return ['path' => sprintf('%s/%s-%s-%s.json', $this->data->holdings(), $link->serial(), $app, hash('xxh128', implode("\0", $marks))), 'changed_at' => $changedAt];
    }

    /** @return array{counts: Counts|null, why: string|null, tries: int, until: int}|null null where there is none that can be read */
    private static function note(string $path): ?array
    {
        clearstatcache(true, $path);
        $note = is_file($path) ? json_decode((string) @file_get_contents($path), true, 8) : null;
        if (!is_array($note) || !is_int($note['tries'] ?? null) || !is_int($note['until'] ?? null)) {
            return null;
        }
        /** @var array{counts: Counts|null, why: string|null, tries: int, until: int} $note written by look() */

        return $note;
    }
}
