<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\SafeName;
use Geschenk\Core\Messenger\FileExtension;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoredConversation;
use Geschenk\Core\Store\StoredMessage;

/** Writes generation 7: rows by table, one file even if it is in several rooms. The same chats give the same bytes. */
final class AndroidWriter implements Writer
{
    /** Folder of the parcels by kind; all others are documents. */
    public const FOLDERS = [
        Kind::Photo->value => 'photo', Kind::Video->value => 'video', Kind::Animation->value => 'animation',
        Kind::Audio->value => 'audio', Kind::Voice->value => 'voice',
        Kind::RoundNote->value => 'round', Kind::Sticker->value => 'sticker',
    ];

    private Database $database;
    private Insert $slips;
    private Insert $parcels;
    private Insert $nods;
    private Insert $marks;
    private AttachmentFiles $files;
    private string $folder;
    /** @var array<string, int> folk_id by person key */
    private array $folk;
    /** @var array<string, int> label_id by name */
    private array $labels;
    private int $runningNumber;
    private int $slipId;

    public function write(ChatStore $chats, AttachmentFiles $files, string $folder, Progress $progress): void
    {
        Folder::make($folder.'/'.AndroidSchema::PARCELS);
        $this->files = $files;
        $this->folder = $folder;
        $this->folk = $this->labels = [];
        $this->runningNumber = $this->slipId = 0;
        $source = $chats->source();
        $edition = Otterpost::messenger()->official($source->edition);
        $counter = Otterpost::COUNTER === $edition;
        $this->database = Database::createAnew($folder.'/'.AndroidSchema::DATABASE);
        $this->database->execute(implode(';', AndroidSchema::tables($counter)));
        $this->database->execute(
            sprintf(
                'PRAGMA application_id = %d; PRAGMA user_version = %d; '
                    .'CREATE TEMP TABLE placed (origin TEXT PRIMARY KEY, store_name TEXT NOT NULL) WITHOUT ROWID; '
                    .'BEGIN',
                $counter ? AndroidSchema::COUNTER_APPLICATION_ID : AndroidSchema::APPLICATION_ID,
                AndroidSchema::GENERATION,
            ),
        );
        $this->slips = Insert::into($this->database, 'slip', AndroidSchema::TABLES['slip']);
        $this->parcels = Insert::into($this->database, 'parcel', AndroidSchema::TABLES['parcel']);
        $this->nods = Insert::into($this->database, 'nod', AndroidSchema::TABLES['nod']);
        $this->marks = Insert::into($this->database, 'mark', AndroidSchema::TABLES['mark']);
        $progress->phase('writing', $chats->messageCount());
        foreach ([
            'edition' => $edition, 'own_handle' => Handle::fromKey($source->account, Handle::ANDROID_SUFFIX),
            'own_name' => $source->accountName,
        ] as $name => $value) {
            $this->database->insert('holt', ['name' => $name, 'value' => $value]);
        }
        foreach ($chats->people() as $person) {
            $this->folkOf($person->key, $person);
        }
        if ($counter) {
            $this->business($chats);
        }
        foreach ($chats->conversations() as $stored) {
            if ($stored->fate->isWritten()) {
                $this->room($chats, $stored, $counter, $progress);
            }
        }
        $this->database->execute(AndroidSchema::INDEXES.'COMMIT');
        // The messenger itself keeps its database in a write-ahead log.
        $this->database->execute('PRAGMA journal_mode = WAL');
        $this->database->close();
    }

    private function business(ChatStore $chats): void
    {
        foreach ($chats->labels() as $label) {
            $this->labels[$label->name] ??= $this->database->insert(
                'label', ['name' => $label->name, 'tint' => $label->tint],
            );
        }
        foreach ($chats->cannedAnswers() as $answer) {
            $this->database->insert('canned', ['shortcut' => $answer->shortcut, 'body' => $answer->text]);
        }
    }

    private function room(ChatStore $chats, StoredConversation $stored, bool $counter, Progress $progress): void
    {
        $conversation = $stored->conversation;
        $placed = ['room.sort'];
        $room = $this->database->insert('room', [
            'sort' => self::ownCode($conversation->opaque, 'room.sort') ?? Codes::code(
                Codes::ROOM_SORTS, $conversation->kind,
            ), 'handle' => Handle::fromKey($conversation->key, Handle::ANDROID_SUFFIX), 'title' => $conversation->title,
            'about' => $conversation->about, 'founded_ms' => $conversation->createdAt,
            'shelved' => $conversation->archived, 'pin_place' => $conversation->pinPlace,
            'hush_until_ms' => $conversation->mutedUntil, 'unread' => $conversation->unread,
            'marked_unread' => $conversation->markedUnread, 'fade_s' => $conversation->timerSeconds,
            'draft' => $conversation->draft, 'picture' => Blob::orNull(
                $conversation->picture,
            ), 'wallpaper' => $conversation->wallpaper,
        ]);
        foreach ($conversation->members as $member) {
            $subject = 'room_folk.rank '.$member->personKey;
            $placed[] = $subject;
            $this->database->insert(
                'room_folk',
                [
                    'room_id' => $room, 'folk_id' => $this->folkOf($member->personKey),
                    'rank' => self::ownCode(
                        $conversation->opaque, $subject,
                    ) ?? Codes::code(Codes::RANKS, $member->role),
                    'since_ms' => $member->joinedAt, 'until_ms' => $member->leftAt,
                ],
            );
        }
        foreach ($counter ? $conversation->labels : [] as $place => $label) {
            $this->database->insert(
                'room_label',
                [
                    'room_id' => $room,
                    'label_id' => $this->labels[$label] ??= $this->database->insert(
                        'label', ['name' => $label, 'tint' => 0],
                    ),
                    'place' => $place + 1,
                ],
            );
        }
        $last = null;
        foreach ($chats->messages($stored->id) as $message) {
            if ($message->fate->isWritten()) {
                $last = $this->slip($room, $message);
            }
            $progress->advance(1);
        }
        $this->database->run(
            'UPDATE room SET last_slip_id = ?, foreign_json = ? WHERE room_id = ?',
            [$last, self::foreign($conversation->opaque, $placed), $room],
        );
    }

    private function slip(int $room, StoredMessage $stored): int
    {
        $message = $stored->message;
        $notice = $message->notice;
        $opaque = $message->opaque;
        $slip = ++$this->slipId;
        $once = null === $message->viewOnce
            ? self::ownCode($opaque, 'slip.once')
            : Codes::code(Codes::ONCE, $message->viewOnce);
        $this->slips->row([
            $slip, $room, $message->wireId, null === $message->senderKey ? null : $this->folkOf(
                $message->senderKey,
            ), $message->fromOwner ? 1 : 0,
            ([] === $opaque ? null : self::ownCode($opaque, 'slip.sort')) ?? Codes::code(
                Codes::SLIP_SORTS, $message->kind,
            ), $message->text, $message->sentAt, $message->receivedAt,
            ([] === $opaque ? null : self::ownCode($opaque, 'slip.stage')) ?? Codes::code(
                Codes::STAGES, $message->state,
            ),
            ($message->starred ? AndroidSchema::FLAG_STARRED : 0)
                | ($message->forwarded ? AndroidSchema::FLAG_FORWARDED : 0)
                | ([] === $opaque ? 0 : self::ownCode($opaque, 'slip.flags') ?? 0),
            $message->replyTo, $message->editedAt, $message->expiresAt, $once,
            null === $notice
                ? null
                : self::ownCode($opaque, 'slip.notice_sort') ?? Codes::code(Codes::NOTICE_SORTS, $notice->kind),
            null === $notice?->actorKey ? null : $this->folkOf($notice->actorKey), null === $notice?->targetKey ? null
                : $this->folkOf($notice->targetKey), $notice?->text,
            [] === $opaque
                ? null
                : self::foreign(
                    $opaque, ['slip.sort', 'slip.stage', 'slip.flags', 'slip.once', 'slip.notice_sort', 'ring.outcome'],
                ),
        ]);
        foreach ($message->attachments as $attachment) {
            $this->parcels->row([
                null, $slip, $this->place($attachment, $message->kind), $attachment->shownName, $attachment->mediaType,
                $attachment->bytes, $attachment->durationMs, $attachment->width, $attachment->height,
                $attachment->preview,
            ]);
        }
        foreach ($message->reactions as $reaction) {
            $this->nods->row(
                [
                    $slip, null === $reaction->personKey ? null : $this->folkOf($reaction->personKey), $reaction->sign,
                    $reaction->givenAt,
                ],
            );
        }
        foreach ($message->receipts as $receipt) {
            $this->marks->row(
                [$slip, $this->folkOf($receipt->personKey), $receipt->deliveredAt, $receipt->readAt, $receipt->heardAt],
            );
        }
        foreach ($message->mentions as $mention) {
            $this->database->insert(
                'mention',
                [
                    'slip_id' => $slip, 'folk_id' => $this->folkOf($mention->personKey), 'from_byte' => $mention->start,
                    'bytes' => $mention->length,
                ],
            );
        }
        if (null !== $message->content) {
            $this->content($slip, $message->content, $opaque);
        }

        return $slip;
    }

    /** @param array<string, scalar|null> $opaque */
    private function content(int $slip, Content $content, array $opaque): void
    {
        match (true) {
            $content instanceof Place => $this->database->insert(
                'spot',
                [
                    'slip_id' => $slip, 'north' => $content->latitude, 'east' => $content->longitude,
                    'name' => $content->name, 'address' => $content->address, 'live_until_ms' => $content->liveUntil,
                ],
            ),
            $content instanceof ContactCards => $this->cards($slip, $content),
            $content instanceof Poll => $this->ballot($slip, $content),
            $content instanceof Call => $this->database->insert(
                'ring',
                [
                    'slip_id' => $slip, 'film' => $content->video,
                    'outcome' => self::ownCode($opaque, 'ring.outcome') ?? Codes::code(
                        Codes::RING_OUTCOMES, $content->outcome,
                    ),
                    'span_ms' => $content->durationMs,
                ],
            ),
            $content instanceof LinkPreview => $this->database->insert(
                'link',
                [
                    'slip_id' => $slip, 'url' => $content->url, 'title' => $content->title,
                    'summary' => $content->description,
                ],
            ),
            $content instanceof CatalogueItem => $this->database->insert(
                'offer',
                [
                    'slip_id' => $slip, 'article' => $content->article, 'name' => $content->name,
                    'price_minor' => $content->priceMinor, 'currency' => $content->currency,
                ],
            ),
            $content instanceof Deletion => $this->database->insert(
                'withdrawn',
                [
                    'slip_id' => $slip, 'folk_id' => null === $content->byKey ? null : $this->folkOf($content->byKey),
                    'withdrawn_ms' => $content->deletedAt,
                ],
            ),
            default => throw new \LogicException('Otterpost has no table for '.$content->sort()),
        };
    }

    private function cards(int $slip, ContactCards $content): void
    {
        foreach ($content->cards as $place => $card) {
            $this->database->insert(
                'card', ['slip_id' => $slip, 'place' => $place + 1, 'name' => $card['name'], 'vcard' => $card['vcard']],
            );
        }
    }

    private function ballot(int $slip, Poll $content): void
    {
        $this->database->insert(
            'ballot', ['slip_id' => $slip, 'several' => $content->several, 'closed_ms' => $content->closedAt],
        );
        foreach ($content->answers as $place => $answer) {
            $this->database->insert(
                'ballot_answer', ['slip_id' => $slip, 'place' => $place + 1, 'body' => $answer['text']],
            );
            foreach ($answer['votes'] as $vote) {
                $this->database->insert(
                    'ballot_vote',
                    [
                        'slip_id' => $slip, 'place' => $place + 1,
                        'folk_id' => null === $vote['who'] ? null : $this->folkOf($vote['who']),
                        'given_ms' => $vote['at'],
                    ],
                );
            }
        }
    }

    /** Copies a file into its place, once, and gives the name that the row has to hold. */
    private function place(Attachment $attachment, Kind $kind): string
    {
        // Files that nobody hashed, and rows without a file, are known by their path alone.
        $origin = ($attachment->sha256 ?? $attachment->path).' '.$attachment->mediaType;
        $known = $this->database->one('SELECT store_name FROM placed WHERE origin = ?', [$origin])?->text('store_name');
        if (null !== $known) {
            return $known;
        }
        $shown = isset(self::FOLDERS[$kind->value]) ? '' : SafeName::of($attachment->shownName);
        $name = sprintf(
            '%s/%06d%s.%s', self::FOLDERS[$kind->value] ?? 'document', ++$this->runningNumber,
            '' === $shown ? '' : '-'.$shown, FileExtension::for($attachment),
        );
        $this->database->run('INSERT INTO placed VALUES (?, ?)', [$origin, $name]);
        if ($attachment->presence->hasFile()) {
            $target = $this->folder.'/'.AndroidSchema::PARCELS.'/'.$name;
            Folder::make(dirname($target));
            $this->files->put($attachment->path, $target, $attachment->sha256);
        }

        return $name;
    }

    private function folkOf(string $key, ?Person $person = null): int
    {
        if (isset($this->folk[$key])) {
            return $this->folk[$key];
        }
        $id = $this->database->insert('folk', [
            'handle' => Handle::fromKey(
                $key, Handle::ANDROID_SUFFIX,
            ), 'book_name' => $person?->bookName, 'own_name' => $person?->ownName, 'barred' => $person->barred ?? false,
            'former_handle' => null === $person?->formerKey
                ? null
                : Handle::fromKey($person->formerKey, Handle::ANDROID_SUFFIX),
        ]);
        foreach ($person->otherNumbers ?? [] as $place => $number) {
            $this->database->insert('folk_number', ['folk_id' => $id, 'place' => $place + 1, 'number' => $number]);
        }

        return $this->folk[$key] = $id;
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
