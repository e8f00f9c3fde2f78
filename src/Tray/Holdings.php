<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\DataFolder;
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

/**
 * What a phone holds, read from the phone: so that swapped roles are seen before anything is written.
 *
 * @phpstan-type Counts array{number: string, conversations: int, messages: int, attachments: int, attachment_bytes: int, newest_at: int|null}
 */
final readonly class Holdings
{
    public function __construct(private PhoneChats $reader, private Formats $formats, private DataFolder $data)
    {
    }

    /**
     * As last read, if the phone's database has not changed since.
     *
     * @return Counts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     */
    public function read(PhoneLink $link, string $app): array
    {
        $marks = [];
        $changedAt = 0;
        foreach ($this->formats->all() as $format) {
            foreach ($format->databaseFiles() as $path) {
                $file = $link->file($app, $path);
                $marks[] = null === $file ? '-' : $file->bytes.':'.$file->changed;
                $changedAt = max($changedAt, $file->changedAt ?? 0);
            }
        }
        $cache = $this->data->holdings().'/'.hash('sha256', $link->serial()."\0".$app."\0".implode("\0", $marks)).'.json';
        if (is_file($cache)) {
            /** @var Counts $counts written below */
            $counts = json_decode((string) file_get_contents($cache), true, 8, \JSON_THROW_ON_ERROR);

            return $counts;
        }
        $counts = $this->readNow($link, $app);
        if (time() - $changedAt < 2) {
            // Written to just now: the next write could leave the same marks.
            return $counts;
        }
        file_put_contents($cache.'.part', json_encode($counts, \JSON_THROW_ON_ERROR));
        rename($cache.'.part', $cache);

        return $counts;
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
        } catch (PhoneUnplugged|PhoneRefuses) {
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
     * Read from the phone at this moment.
     *
     * @return Counts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
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
}
