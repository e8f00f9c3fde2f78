<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\SafeName;
use Geschenk\Core\Messenger\FileExtension;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\PropertyList;
use Geschenk\Core\Messenger\Since2001;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoredConversation;

/**
 * Writes generation 3: rows with their Core-Data housekeeping, counters that are right, a file a slip in a folder a
 * room. The same chats give the same bytes.
 */
final class IosWriter implements Writer
{
    /** Kinds whose files keep a readable name. */
    private const NAMED = [Kind::Document->value => true, Kind::Audio->value => true, Kind::Unknown->value => true];
    /** Messages in one statement. */
    private const CHUNK = 20_000;

    private Database $database;
    private SlipMove $slips;
    private Insert $parcels;
    private AttachmentFiles $files;
    private string $folder;
    /** @var array<string, int> ZFOLK.Z_PK by person key */
    private array $folk;
    /** @var array<string, int> ZROOMFOLK.Z_PK by person key, of the room being written */
    private array $roomFolk;
    /** @var array<int, string> keys of senders whose trace row is numbered and not written yet */
    private array $traces = [];
    /** @var array<string, int> ZLABEL.Z_PK by name */
    private array $labels;
    /** @var array<string, int> highest Z_PK by entity */
    private array $highest;

    public function write(ChatStore $chats, AttachmentFiles $files, string $folder, Progress $progress): void
    {
        Folder::make($folder.'/'.IosSchema::PARCELS);
        $this->files = $files;
        $this->folder = $folder;
        $this->folk = $this->labels = [];
        $this->highest = array_fill_keys(array_keys(IosSchema::ENTITIES), 0);
        $this->database = Database::createAnew($folder.'/'.IosSchema::DATABASE);
        $chats->attachTo($this->database, 'chats');
        $this->database->execute(
            implode(
                ';', IosSchema::TABLES,
            ).';CREATE TEMP TABLE sender (key TEXT PRIMARY KEY, room_folk INTEGER NOT NULL) WITHOUT ROWID; BEGIN',
        );
        $this->slips = new SlipMove($this->database, $chats, $this->traceOf(...));
        $this->parcels = Insert::into($this->database, 'ZPARCEL', IosSchema::TABLES['ZPARCEL']);
        $progress->phase('writing', $chats->messageCount());
        $source = $chats->source();
        $this->row(
            'Holt',
            [
                'ZEDITION' => Otterpost::messenger()->official($source->edition),
                'ZOWNHANDLE' => Handle::fromKey($source->account, Handle::IOS_SUFFIX),
                'ZOWNNAME' => $source->accountName,
            ],
        );
        foreach ($chats->people() as $person) {
            $this->folkOf($person->key, $person);
        }
        foreach ($chats->labels() as $label) {
            $this->labels[$label->name] ??= $this->row('Label', ['ZNAME' => $label->name, 'ZTINT' => $label->tint]);
        }
        foreach ($chats->cannedAnswers() as $answer) {
            $this->row('Canned', ['ZSHORTCUT' => $answer->shortcut, 'ZBODY' => $answer->text]);
        }
        foreach ($chats->conversations() as $stored) {
            if ($stored->fate->isWritten()) {
                $this->room($chats, $stored, $progress);
            }
        }
        foreach (IosSchema::ENTITIES as $entity => $number) {
            $this->database->insert(
                'Z_PRIMARYKEY',
                ['Z_ENT' => $number, 'Z_NAME' => $entity, 'Z_SUPER' => 0, 'Z_MAX' => $this->highest[$entity]],
            );
        }
        $this->database->insert(
            'Z_METADATA',
            [
                'Z_VERSION' => IosSchema::GENERATION, 'Z_UUID' => $this->uuid($chats),
                'Z_PLIST' => new Blob(
                    PropertyList::write(['StoreType' => 'SQLite', 'Generation' => IosSchema::GENERATION]),
                ),
            ],
        );
        $this->database->execute(IosSchema::INDEXES.'COMMIT');
        $this->database->detach('chats');
        $this->database->execute('PRAGMA journal_mode = WAL');
        $this->database->close();
    }

    private function room(ChatStore $chats, StoredConversation $stored, Progress $progress): void
    {
        $conversation = $stored->conversation;
        $placed = ['ZROOM.ZSORT'];
        $room = $this->row('Room', [
            'ZSORT' => self::ownCode($conversation->opaque, 'ZROOM.ZSORT')
                ?? Codes::code(Codes::ROOM_SORTS, $conversation->kind),
            'ZSHELVED' => $conversation->archived, 'ZPINPLACE' => $conversation->pinPlace,
            'ZUNREAD' => $conversation->unread, 'ZMARKEDUNREAD' => $conversation->markedUnread,
            'ZFADE' => $conversation->timerSeconds, 'ZFOUNDED' => Since2001::toSeconds($conversation->createdAt),
            'ZHUSHUNTIL' => Conversation::MUTED_FOR_GOOD === $conversation->mutedUntil
                ? -1.0
                : Since2001::toSeconds($conversation->mutedUntil),
            'ZHANDLE' => Handle::fromKey($conversation->key, Handle::IOS_SUFFIX),
            'ZTITLE' => $conversation->title, 'ZABOUT' => $conversation->about, 'ZDRAFT' => $conversation->draft,
        ]);
        $picture = null;
        if (null !== $conversation->picture) {
            $picture = sprintf('%s/R%05d.jpg', IosSchema::PICTURES, $room);
            $this->putSmall($picture, $conversation->picture);
        }
        $this->roomFolk = [];
        foreach ($conversation->members as $member) {
            $subject = 'ZROOMFOLK.ZRANK '.$member->personKey;
            $placed[] = $subject;
            $this->roomFolk[$member->personKey] = $this->row('RoomFolk', [
                'ZROOM' => $room, 'ZFOLK' => $this->folkOf($member->personKey), 'ZRANK' => self::ownCode(
                    $conversation->opaque, $subject,
                ) ?? Codes::code(Codes::RANKS, $member->role), 'ZTRACE' => 0,
                'ZSINCE' => Since2001::toSeconds($member->joinedAt), 'ZUNTIL' => Since2001::toSeconds($member->leftAt),
            ]);
        }
        foreach ($conversation->labels as $place => $label) {
            $this->row(
                'RoomLabel',
                [
                    'ZROOM' => $room,
                    'ZLABEL' => $this->labels[$label] ??= $this->row('Label', ['ZNAME' => $label, 'ZTINT' => 0]),
                    'ZPLACE' => $place + 1,
                ],
            );
        }
        [$first, $messages] = $chats->range($stored->id);
        $this->database->execute('DELETE FROM temp.sender');
        foreach ($this->roomFolk as $key => $roomFolk) {
            $this->database->run('INSERT INTO temp.sender VALUES (?, ?)', [(string) $key, $roomFolk]);
        }
        $count = 0;
        for ($from = $first; $from < $first + $messages; $from += self::CHUNK) {
            $to = min($from + self::CHUNK, $first + $messages);
            $written = $this->slips->move(
                new SlipRange($stored->id, $room, $from, $to, $this->highest['Slip'], $count),
            );
            $count += $written;
            $this->putTraces($room);
            $this->highest['Slip'] += $written;
            $still = ['slip' => 0, 'parcel' => 0];
            foreach ($this->slips->attachments() as ['slip' => $slip, 'kind' => $kind, 'attachment' => $attachment]) {
                $number = $this->parcel(
                    $room, $slip, $kind, $attachment, $still['slip'] === $slip ? $still['parcel'] : 0,
                );
                $still = $attachment->isMotion ? $still : ['slip' => $slip, 'parcel' => $number];
            }
            $progress->advance($to - $from);
        }
        $last = 0 === $count ? null : $this->highest['Slip'];
        $rank = null === $last
            ? Since2001::toSeconds($conversation->createdAt) ?? 0.0
            : $this->database->one('SELECT ZSENT FROM ZSLIP WHERE Z_PK = ?', [$last])?->nullableFloat('ZSENT');
        $this->database->run(
            'UPDATE ZROOM SET ZSLIPCOUNT = ?, ZLASTSLIP = ?, ZSORTRANK = ?, ZPICTUREPATH = ?, ZFOREIGN = ? '
                .'WHERE Z_PK = ?',
            [$count, $last, $rank, $picture, self::foreign($conversation->opaque, $placed), $room],
        );
    }

    /** @param int $still number of the parcel that a motion part belongs to */
    private function parcel(int $room, int $slip, string $kind, Attachment $attachment, int $still): int
    {
        $number = ++$this->highest['Parcel'];
        $folder = sprintf('%s/R%05d', IosSchema::PARCELS, $room);
        $path = null;
        if ($attachment->presence->hasFile()) {
            $name = isset(self::NAMED[$kind]) ? SafeName::of($attachment->shownName) : '';
            $path = sprintf(
                '%s/%07d%s.%s', $folder, $number, '' === $name ? '' : '-'.$name, FileExtension::for($attachment),
            );
            Folder::make($this->folder.'/'.$folder);
            $target = $this->folder.'/'.$path;
            $path = $this->files->put($attachment->path, $target, $attachment->sha256) ? $path : null;
        }
        $peek = null;
        if (null !== $attachment->preview) {
            $peek = sprintf('%s/%s/%07d.jpg', $folder, IosSchema::PEEKS, $number);
            $this->putSmall($peek, $attachment->preview);
        }
        $this->parcels->row([
            $number, IosSchema::ENTITIES['Parcel'], 1, $slip, $attachment->isMotion
                ? $still
                : null, $attachment->bytes, $attachment->width, $attachment->height,
            null === $attachment->durationMs
                ? null
                : $attachment->durationMs / 1000.0, $path, $peek, $attachment->shownName, $attachment->mediaType,
        ]);

        return $number;
    }

    private function putSmall(string $path, string $bytes): void
    {
        Folder::make(dirname($this->folder.'/'.$path));
        $stream = Disk::open($this->folder.'/'.$path, 'w');
        Disk::write($stream, $bytes, $this->folder.'/'.$path);
        fclose($stream);
    }

    private function folkOf(string $key, ?Person $person = null): int
    {
        return $this->folk[$key] ??= $this->row('Folk', [
            'ZBARRED' => $person->barred ?? false, 'ZHANDLE' => Handle::fromKey(
                $key, Handle::IOS_SUFFIX,
            ), 'ZBOOKNAME' => $person?->bookName, 'ZOWNNAME' => $person?->ownName,
            'ZFORMERHANDLE' => null === $person?->formerKey
                ? null
                : Handle::fromKey($person->formerKey, Handle::IOS_SUFFIX),
            'ZNUMBERS' => null === $person || [] === $person->otherNumbers
                ? null
                : new Blob(PropertyList::write($person->otherNumbers)),
        ]);
    }

    /** The number of the room's row for a sender; one who is no member there gets a trace row. */
    private function traceOf(string $key): int
    {
        if (!isset($this->roomFolk[$key])) {
            $this->roomFolk[$key] = ++$this->highest['RoomFolk'];
            $this->traces[$this->roomFolk[$key]] = $key;
        }

        return $this->roomFolk[$key];
    }

    private function putTraces(int $room): void
    {
        foreach ($this->traces as $number => $key) {
            $this->database->insert(
                'ZROOMFOLK',
                [
                    'Z_PK' => $number, 'Z_ENT' => IosSchema::ENTITIES['RoomFolk'], 'Z_OPT' => 1, 'ZROOM' => $room,
                    'ZFOLK' => $this->folkOf((string) $key), 'ZRANK' => 1, 'ZTRACE' => 1,
                ],
            );
        }
        $this->traces = [];
    }

    /** @param array<string, scalar|Blob|null> $values */
    private function row(string $entity, array $values): int
    {
        $key = ++$this->highest[$entity];
        $this->database->insert(
            'Z'.strtoupper($entity), ['Z_PK' => $key, 'Z_ENT' => IosSchema::ENTITIES[$entity], 'Z_OPT' => 1,
                ...$values],
        );

        return $key;
    }

    /** @param array<string, scalar|null> $opaque */
    private static function ownCode(array $opaque, string $subject): ?int
    {
        $code = $opaque[IosFormat::DETAIL_PREFIX.$subject] ?? null;

        return is_int($code) ? $code : null;
    }

    /**
     * @param array<string, scalar|null> $opaque
     * @param list<string>               $placed subjects that went back into their own columns
     */
    public static function foreign(array $opaque, array $placed): ?Blob
    {
        foreach ($placed as $subject) {
            unset($opaque[IosFormat::DETAIL_PREFIX.$subject]);
        }

        return [] === $opaque ? null : new Blob(PropertyList::write($opaque));
    }

    /** A UUID of version 8 (RFC 9562): made of the chats themselves, so that converting twice gives the same bytes. */
    private function uuid(ChatStore $chats): string
    {
        $source = $chats->source();
        $bytes = substr(
            hash(
                'sha256',
                implode(
                    "\0",
                    [$source->messenger, $source->edition, $source->account, ...array_map(strval(...), $this->highest)],
                ),
                true,
            ),
            0, 16,
        );
        $bytes[6] = chr(ord($bytes[6]) & 0x0F | 0x80);
        $bytes[8] = chr(ord($bytes[8]) & 0x3F | 0x80);

        return strtoupper(vsprintf('%s%s-%s-%s-%s-%s%s%s', str_split(bin2hex($bytes), 4)));
    }
}
