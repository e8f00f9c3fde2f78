<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Messenger\FileExtension;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoredConversation;
use Geschenk\Core\Store\StoredMessage;

/** Writes generation 3: rows with their Core-Data housekeeping, counters that are right, a file a slip in a folder a room. */
final class IosWriter implements Writer
{
    private Database $database;
    private AttachmentFiles $files;
    private string $folder;
    /** @var array<string, int> ZFOLK.Z_PK by person key */
    private array $folk;
    /** @var array<string, int> ZROOMFOLK.Z_PK by person key, of the room being written */
    private array $roomFolk;
    /** @var array<string, int> highest Z_PK by entity */
    private array $highest;

    public function write(ChatStore $chats, AttachmentFiles $files, string $folder, Progress $progress): void
    {
        Folder::make($folder.'/'.Schema::PARCELS);
        $this->files = $files;
        $this->folder = $folder;
        $this->folk = [];
        $this->highest = array_fill_keys(array_keys(Schema::ENTITIES), 0);
        $this->database = Database::create($folder.'/'.Schema::DATABASE);
        $this->database->execute(implode(';', Schema::TABLES).';BEGIN');
        $progress->phase('writing', $chats->messageCount());
        $source = $chats->source();
        $this->row('Holt', ['ZEDITION' => $source->edition, 'ZOWNHANDLE' => Handle::fromKey($source->account, Handle::IOS_SUFFIX), 'ZOWNNAME' => $source->accountName]);
        foreach ($chats->people() as $person) {
            $this->folkOf($person->key, $person);
        }
        foreach ($chats->conversations() as $stored) {
            if (Fate::LeftOut !== $stored->fate) {
                $this->room($chats, $stored, $progress);
            }
        }
        foreach (Schema::ENTITIES as $entity => $number) {
            $this->database->insert('Z_PRIMARYKEY', ['Z_ENT' => $number, 'Z_NAME' => $entity, 'Z_SUPER' => 0, 'Z_MAX' => $this->highest[$entity]]);
        }
        $this->database->insert('Z_METADATA', ['Z_VERSION' => Schema::GENERATION, 'Z_UUID' => self::uuid(), 'Z_PLIST' => new Blob(PropertyList::write(['StoreType' => 'SQLite', 'Generation' => Schema::GENERATION]))]);
        $this->database->execute('COMMIT;'.Schema::INDEXES);
        $this->database->execute('PRAGMA journal_mode = WAL');
        $this->database->close();
    }

    private function room(ChatStore $chats, StoredConversation $stored, Progress $progress): void
    {
        $conversation = $stored->conversation;
        $room = $this->row('Room', [
            'ZSORT' => self::ownCode($conversation->opaque, 'ZROOM.ZSORT') ?? Codes::code(Codes::ROOM_SORTS, $conversation->kind), 'ZSHELVED' => $conversation->archived, 'ZPINPLACE' => $conversation->pinPlace, 'ZUNREAD' => $conversation->unread,
            'ZFOUNDED' => Clock::toSeconds($conversation->createdAt), 'ZHUSHUNTIL' => Conversation::MUTED_FOR_GOOD === $conversation->mutedUntil ? -1.0 : Clock::toSeconds($conversation->mutedUntil),
            'ZHANDLE' => Handle::fromKey($conversation->key, Handle::IOS_SUFFIX), 'ZTITLE' => $conversation->title, 'ZABOUT' => $conversation->about,
            'ZFOREIGN' => self::foreign($conversation->opaque, ['ZROOM.ZSORT']),
        ]);
        $this->roomFolk = [];
        foreach ($conversation->members as $member) {
            $this->roomFolk[$member->personKey] = $this->row('RoomFolk', [
                'ZROOM' => $room, 'ZFOLK' => $this->folkOf($member->personKey), 'ZRANK' => Codes::code(Codes::RANKS, $member->role), 'ZTRACE' => 0,
                'ZSINCE' => Clock::toSeconds($member->joinedAt), 'ZUNTIL' => Clock::toSeconds($member->leftAt),
            ]);
        }
        $count = 0;
        $last = null;
        $rank = Clock::toSeconds($conversation->createdAt) ?? 0.0;
        foreach ($chats->messages($stored->id) as $message) {
            if (Fate::LeftOut !== $message->fate) {
                $last = $this->slip($chats, $stored->id, $room, ++$count, $message);
                $rank = Clock::toSeconds($message->message->sentAt);
            }
            $progress->advance(1);
        }
        $this->database->run('UPDATE ZROOM SET ZSLIPCOUNT = ?, ZLASTSLIP = ?, ZSORTRANK = ? WHERE Z_PK = ?', [$count, $last, $rank, $room]);
    }

    private function slip(ChatStore $chats, int $conversationId, int $room, int $place, StoredMessage $stored): int
    {
        $message = $stored->message;
        $noticeSort = $message->opaque[IosFormat::DETAIL_PREFIX.'notice.sort'] ?? null;
        $slip = $this->row('Slip', [
            'ZROOM' => $room, 'ZROOMFOLK' => null === $message->senderKey ? null : $this->traceOf($room, $message->senderKey), 'ZPLACE' => $place, 'ZMINE' => $message->fromOwner,
            'ZSORT' => self::ownCode($message->opaque, 'ZSLIP.ZSORT') ?? Codes::code(Codes::SLIP_SORTS, $message->kind),
            'ZSTAGE' => self::ownCode($message->opaque, 'ZSLIP.ZSTAGE') ?? Codes::code(Codes::STAGES, $message->state),
            'ZFLAGS' => ($message->starred ? Schema::FLAG_STARRED : 0) | ($message->forwarded ? Schema::FLAG_FORWARDED : 0) | (self::ownCode($message->opaque, 'ZSLIP.ZFLAGS') ?? 0),
            'ZSENT' => Clock::toSeconds($message->sentAt), 'ZLANDED' => Clock::toSeconds($message->receivedAt), 'ZWIREID' => $message->wireId, 'ZBODY' => $message->text,
            'ZANSWER' => null === $message->replyTo ? null : new Blob(Extras::answer($message->replyTo, $chats->answered($conversationId, $message->replyTo)?->message)),
            'ZEXTRAS' => Blob::orNull(Extras::write($message, is_string($noticeSort) ? $noticeSort : null)),
            'ZFOREIGN' => self::foreign($message->opaque, ['ZSLIP.ZSORT', 'ZSLIP.ZSTAGE', 'ZSLIP.ZFLAGS', 'notice.sort']),
        ]);
        foreach ($message->attachments as $attachment) {
            $this->parcel($room, $slip, $attachment);
        }

        return $slip;
    }

    private function parcel(int $room, int $slip, Attachment $attachment): void
    {
        $number = $this->highest['Parcel'] + 1;
        $folder = sprintf('%s/R%05d', Schema::PARCELS, $room);
        $path = null;
        $source = $attachment->presence->hasFile() ? $this->files->open($attachment->path) : null;
        if (null !== $source) {
            $path = sprintf('%s/%07d.%s', $folder, $number, FileExtension::for($attachment));
            Folder::make($this->folder.'/'.$folder);
            Folder::putStream($source, $this->folder.'/'.$path);
        }
        $peek = null;
        if (null !== $attachment->preview) {
            $peek = sprintf('%s/%s/%07d.jpg', $folder, Schema::PEEKS, $number);
            Folder::make($this->folder.'/'.$folder.'/'.Schema::PEEKS);
            file_put_contents($this->folder.'/'.$peek, $attachment->preview);
        }
        $this->row('Parcel', [
            'ZSLIP' => $slip, 'ZOCTETS' => $attachment->bytes, 'ZWIDTH' => $attachment->width, 'ZHEIGHT' => $attachment->height,
            'ZSPAN' => null === $attachment->durationMs ? null : $attachment->durationMs / 1000.0, 'ZPATH' => $path, 'ZPEEKPATH' => $peek,
            'ZSHOWNNAME' => $attachment->shownName, 'ZMEDIATYPE' => $attachment->mediaType,
        ]);
    }

    private function folkOf(string $key, ?Person $person = null): int
    {
        return $this->folk[$key] ??= $this->row('Folk', ['ZBARRED' => $person->barred ?? false, 'ZHANDLE' => Handle::fromKey($key, Handle::IOS_SUFFIX), 'ZBOOKNAME' => $person?->bookName, 'ZOWNNAME' => $person?->ownName]);
    }

    /** The room's row for a sender; one who is no member there gets a trace row. */
    private function traceOf(int $room, string $key): int
    {
        return $this->roomFolk[$key] ??= $this->row('RoomFolk', ['ZROOM' => $room, 'ZFOLK' => $this->folkOf($key), 'ZRANK' => 1, 'ZTRACE' => 1]);
    }

    /** @param array<string, scalar|Blob|null> $values */
    private function row(string $entity, array $values): int
    {
        $key = ++$this->highest[$entity];
        $this->database->insert('Z'.strtoupper($entity), ['Z_PK' => $key, 'Z_ENT' => Schema::ENTITIES[$entity], 'Z_OPT' => 1, ...$values]);

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
    private static function foreign(array $opaque, array $placed): ?Blob
    {
        foreach ($placed as $subject) {
            unset($opaque[IosFormat::DETAIL_PREFIX.$subject]);
        }

        return [] === $opaque ? null : new Blob(PropertyList::write($opaque));
    }

    private static function uuid(): string
    {
        $bytes = random_bytes(16);
        $bytes[6] = chr(ord($bytes[6]) & 0x0F | 0x40);
        $bytes[8] = chr(ord($bytes[8]) & 0x3F | 0x80);

        return strtoupper(vsprintf('%s%s-%s-%s-%s-%s%s%s', str_split(bin2hex($bytes), 4)));
    }
}
