<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Kind;
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
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoredConversation;
use Geschenk\Core\Store\StoredMessage;

/** Writes generation 7: rows by table, one file even if it is in several rooms. */
final class AndroidWriter implements Writer
{
    private const FOLDERS = [Kind::Photo->value => 'photo', Kind::Voice->value => 'voice'];

    private Database $database;
    private AttachmentFiles $files;
    private string $folder;
    /** @var array<string, int> folk_id by person key */
    private array $folk;
    private int $runningNumber;

    public function write(ChatStore $chats, AttachmentFiles $files, string $folder, Progress $progress): void
    {
        Folder::make($folder.'/'.Schema::PARCELS);
        $this->files = $files;
        $this->folder = $folder;
        $this->folk = [];
        $this->runningNumber = 0;
        $this->database = Database::create($folder.'/'.Schema::DATABASE);
        $this->database->execute(implode(';', Schema::TABLES).';'.Schema::INDEXES);
        $this->database->execute(sprintf('PRAGMA application_id = %d; PRAGMA user_version = %d; CREATE TEMP TABLE placed (origin TEXT PRIMARY KEY, store_name TEXT NOT NULL) WITHOUT ROWID; BEGIN', Schema::APPLICATION_ID, Schema::GENERATION));
        $progress->phase('writing', $chats->messageCount());
        $source = $chats->source();
        foreach (['edition' => $source->edition, 'own_handle' => Handle::fromKey($source->account, Handle::ANDROID_SUFFIX), 'own_name' => $source->accountName] as $name => $value) {
            $this->database->insert('holt', ['name' => $name, 'value' => $value]);
        }
        foreach ($chats->people() as $person) {
            $this->folkOf($person->key, $person);
        }
        foreach ($chats->conversations() as $stored) {
            if (Fate::LeftOut !== $stored->fate) {
                $this->room($chats, $stored, $progress);
            }
        }
        $this->database->execute('COMMIT');
        // The messenger itself keeps its database in a write-ahead log.
        $this->database->execute('PRAGMA journal_mode = WAL');
        $this->database->close();
    }

    private function room(ChatStore $chats, StoredConversation $stored, Progress $progress): void
    {
        $conversation = $stored->conversation;
        $roomId = $this->database->insert('room', [
            'sort' => self::ownCode($conversation->opaque, 'room.sort') ?? Codes::code(Codes::ROOM_SORTS, $conversation->kind), 'handle' => Handle::fromKey($conversation->key, Handle::ANDROID_SUFFIX), 'title' => $conversation->title,
            'about' => $conversation->about, 'founded_ms' => $conversation->createdAt, 'shelved' => $conversation->archived, 'pin_place' => $conversation->pinPlace,
            'hush_until_ms' => $conversation->mutedUntil, 'unread' => $conversation->unread, 'wallpaper' => $conversation->wallpaper,
            'foreign_json' => self::foreign($conversation->opaque, ['room.sort']),
        ]);
        foreach ($conversation->members as $member) {
            $this->database->insert('room_folk', ['room_id' => $roomId, 'folk_id' => $this->folkOf($member->personKey), 'rank' => Codes::code(Codes::RANKS, $member->role), 'since_ms' => $member->joinedAt, 'until_ms' => $member->leftAt]);
        }
        $last = null;
        foreach ($chats->messages($stored->id) as $message) {
            if (Fate::LeftOut !== $message->fate) {
                $last = $this->slip($roomId, $message);
            }
            $progress->advance(1);
        }
        $this->database->run('UPDATE room SET last_slip_id = ? WHERE room_id = ?', [$last, $roomId]);
    }

    private function slip(int $roomId, StoredMessage $stored): int
    {
        $message = $stored->message;
        $notice = $message->notice;
        $person = fn (?string $key): ?int => null === $key ? null : $this->folkOf($key);
        $slipId = $this->database->insert('slip', [
            'room_id' => $roomId, 'wire_id' => $message->wireId, 'folk_id' => $person($message->senderKey), 'mine' => $message->fromOwner,
            'sort' => self::ownCode($message->opaque, 'slip.sort') ?? Codes::code(Codes::SLIP_SORTS, $message->kind), 'body' => $message->text,
            'sent_ms' => $message->sentAt, 'landed_ms' => $message->receivedAt,
            'stage' => self::ownCode($message->opaque, 'slip.stage') ?? Codes::code(Codes::STAGES, $message->state),
            'flags' => ($message->starred ? Schema::FLAG_STARRED : 0) | ($message->forwarded ? Schema::FLAG_FORWARDED : 0) | (self::ownCode($message->opaque, 'slip.flags') ?? 0),
            'answers_wire_id' => $message->replyTo,
            'notice_sort' => null === $notice ? null : self::ownCode($message->opaque, 'slip.notice_sort') ?? Codes::code(Codes::NOTICE_SORTS, $notice->kind),
            'notice_folk_id' => $person($notice?->actorKey), 'notice_target_id' => $person($notice?->targetKey), 'notice_text' => $notice?->text,
            'foreign_json' => self::foreign($message->opaque, ['slip.sort', 'slip.stage', 'slip.flags', 'slip.notice_sort']),
        ]);
        foreach ($message->attachments as $attachment) {
            $this->database->insert('parcel', [
                'slip_id' => $slipId, 'store_name' => $this->place($attachment, $message->kind), 'shown_name' => $attachment->shownName, 'media_type' => $attachment->mediaType,
                'octets' => $attachment->bytes, 'span_ms' => $attachment->durationMs, 'width' => $attachment->width, 'height' => $attachment->height, 'peek' => Blob::orNull($attachment->preview),
            ]);
        }
        foreach ($message->reactions as $reaction) {
            $this->database->insert('nod', ['slip_id' => $slipId, 'folk_id' => $person($reaction->personKey), 'sign' => $reaction->sign, 'given_ms' => $reaction->givenAt]);
        }
        foreach ($message->receipts as $receipt) {
            $this->database->insert('mark', ['slip_id' => $slipId, 'folk_id' => $this->folkOf($receipt->personKey), 'handed_ms' => $receipt->deliveredAt, 'read_ms' => $receipt->readAt, 'heard_ms' => $receipt->heardAt]);
        }

        return $slipId;
    }

    /** Copies a file into its place, once, and gives the name that the row has to hold. */
    private function place(Attachment $attachment, Kind $kind): string
    {
        $origin = $attachment->sha256 ?? $attachment->path;
        $known = $this->database->one('SELECT store_name FROM placed WHERE origin = ?', [$origin])?->text('store_name');
        if (null !== $known) {
            return $known;
        }
        $name = sprintf('%s/%06d.%s', self::FOLDERS[$kind->value] ?? 'document', ++$this->runningNumber, FileExtension::for($attachment));
        $this->database->run('INSERT INTO placed VALUES (?, ?)', [$origin, $name]);
        $source = $attachment->presence->hasFile() ? $this->files->open($attachment->path) : null;
        if (null !== $source) {
            Folder::make(dirname($this->folder.'/'.Schema::PARCELS.'/'.$name));
            Folder::putStream($source, $this->folder.'/'.Schema::PARCELS.'/'.$name);
        }

        return $name;
    }

    private function folkOf(string $key, ?Person $person = null): int
    {
        return $this->folk[$key] ??= $this->database->insert('folk', ['handle' => Handle::fromKey($key, Handle::ANDROID_SUFFIX), 'book_name' => $person?->bookName, 'own_name' => $person?->ownName, 'barred' => $person->barred ?? false]);
    }

    /** @param array<string, scalar|null> $opaque */
    private static function ownCode(array $opaque, string $subject): ?int
    {
        $code = $opaque[AndroidFormat::DETAIL_PREFIX.$subject] ?? null;

        return is_int($code) ? $code : null;
    }

    /**
     * @param array<string, scalar|null> $opaque
     * @param list<string>               $placed subjects that went back into their own columns
     */
    private static function foreign(array $opaque, array $placed): ?string
    {
        foreach ($placed as $subject) {
            unset($opaque[AndroidFormat::DETAIL_PREFIX.$subject]);
        }

        return [] === $opaque ? null : SafeJson::encode($opaque);
    }
}
