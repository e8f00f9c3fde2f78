<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidGeneration4;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Chat\Times;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema as Generation7;
use Geschenk\Core\Messenger\Otterpost\Android\Codes;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\TolerantRow;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\StoreWriter;

/** One pass over one generation 4 database. */
final class AndroidGeneration4Reading
{
    private readonly Database $database;
    /** @var array<string, true> keys of people who are in the store */
    private array $people = [];

    public function __construct(
        private readonly FormatDatabase $pouch,
        private readonly AttachmentFiles $files,
        private readonly StoreWriter $store,
        private readonly Progress $progress,
    ) {
        $this->database = $pouch->database;
    }

    public function all(): void
    {
        $this->progress->phase('reading', $this->database->one('SELECT COUNT(*) AS n FROM slip')?->int('n') ?? 0);
        $holt = [];
        foreach ($this->database->few($this->pouch->select('holt')) as $row) {
            $holt[$row->nullableText('name') ?? ''] = $row->nullableText('value');
        }
        $this->store->source(
            new Source(
                Otterpost::NAME, Otterpost::edition(
                    $holt['edition'] ?? null, Otterpost::ORDINARY, 'holt.edition', $this->store,
                ),
                Platform::Android, Generation4Schema::GENERATION, self::key($holt['own_handle'] ?? ''),
                $holt['own_name'] ?? null,
            ),
        );
        $this->pouch->listUnknownColumns('holt', 'room_folk');
        $met = [];
        foreach ($this->database->rows($this->pouch->select('room', 'ORDER BY rowid')) as $row) {
            $handle = $row->nullableText('handle');
            if (null === $handle || isset($met[$handle])) {
                // Its slips are those of the first.
                $this->store->finding(null === $handle ? 'value_absent' : 'conversation_twice', 'room.handle', $handle);
                continue;
            }
            $met[$handle] = true;
            $this->room(
                $handle,
                $this->pouch->attempt(
                    'room', fn (): Conversation => $this->conversation($row),
                ) ?? self::roomOfItsOwn(self::key($handle)),
            );
        }
        foreach ($this->database->rows(
            "SELECT DISTINCT CAST(room_handle AS BLOB) AS handle FROM slip s WHERE typeof(room_handle) = 'text' "
                .'AND NOT EXISTS (SELECT 1 FROM room r WHERE r.handle = s.room_handle)',
        ) as $row) {
            // The room is gone and its slips are not: they get a room of their own rather than being dropped.
            $handle = $row->text('handle');
            $this->store->finding('room_gone', 'slip.room_handle', $handle);
            $this->room($handle, self::roomOfItsOwn(self::key($handle)));
        }
        if (null !== $this->database->one("SELECT 1 AS here FROM slip WHERE typeof(room_handle) <> 'text' LIMIT 1")) {
            $this->store->finding('room_gone', 'slip.room_handle', 'no text');
            $this->room(null, self::roomOfItsOwn('conversation-unknown'));
        }
    }

    /** For slips whose room can't be read or is gone. */
    private static function roomOfItsOwn(string $key): Conversation
    {
        return new Conversation($key, ConversationKind::Unknown, null, null, null, false, null, null, 0, null, []);
    }

    private function room(?string $handle, Conversation $conversation): void
    {
        $id = $this->store->conversation($conversation);
        foreach ($this->database->rows(
            $this->pouch->select(
                'slip',
                null === $handle
                    ? "WHERE typeof(room_handle) <> 'text' ORDER BY slip_id"
                    : 'WHERE room_handle = CAST(? AS TEXT) ORDER BY slip_id',
            ),
            null === $handle ? [] : [new Blob($handle)],
        ) as $row) {
            try {
                $this->store->message($id, $this->message($row, $conversation));
            } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
                $this->pouch->rowUnreadable('slip', $error);
                $this->store->lost($id, 1);
            }
            $this->progress->advance(1);
        }
        $lost = $this->pouch->damage()?->lostBy('slip_in_room', $handle ?? '') ?? 0;
        if ($lost > 0) {
            $this->store->lost($id, $lost);
        }
    }

    private function conversation(Row $found): Conversation
    {
        $row = $this->pouch->tolerant('room', $found);
        $handle = $row->text('handle');
        $opaque = $this->pouch->withUnknownColumns('room', array_values($found->values), []);
        $sort = $row->nullableInt('sort');
        $kind = Codes::ROOM_SORTS[$sort ?? Codes::FOREIGN] ?? ConversationKind::Unknown;
        if (null !== $sort && ConversationKind::Unknown === $kind) {
            $this->pouch->keepUnknown('unknown_conversation_kind', 'room.sort', $sort, $opaque);
        }
        $members = [];
        foreach ($this->database->few(
            $this->pouch->select('room_folk', 'WHERE room_handle = CAST(? AS TEXT) ORDER BY rowid'),
            [new Blob($handle)],
        ) as $member) {
            $member = $this->pouch->tolerant('room_folk', $member);
            $members[] = new Member(
                $this->personOf($member->text('folk_handle')), Codes::RANKS[$member->int('rank')] ?? MemberRole::Member,
                self::milliseconds($member->time('since_s')), null,
            );
        }
        if (ConversationKind::Direct === $kind) {
            // There is no table of people: the title of a direct room is what the address book calls them.
            $this->personOf($handle, $row->nullableText('title'));
        }
        $hush = $row->time('hush_until_s');

        return new Conversation(
            self::key($handle), $kind, ConversationKind::Direct === $kind
                ? null
                : $row->nullableText('title'), $row->nullableText('about'), self::milliseconds($row->time('founded_s')),
            $row->bool('shelved'), $row->nullableInt('pin_place'), Generation7::HUSHED_FOR_GOOD === $hush
                ? Conversation::MUTED_FOR_GOOD
                : self::milliseconds($hush), $row->int('unread'),
            $row->nullableText('wallpaper'), $members, $opaque, draft: $row->nullableText('draft'),
        );
    }

    private function message(Row $found, Conversation $conversation): Message
    {
        $row = $this->pouch->tolerant('slip', $found);
        $opaque = $this->pouch->withUnknownColumns('slip', array_values($found->values), []);
        $sort = $row->int('sort', Codes::FOREIGN);
        $kind = Generation4Schema::SLIP_SORTS[$sort] ?? Kind::Unknown;
        if (Kind::Unknown === $kind && Codes::FOREIGN !== $sort) {
            $this->pouch->keepUnknown('unknown_kind', 'slip.sort', $sort, $opaque);
        }
        $stage = $row->int('stage', Codes::FOREIGN);
        $state = Codes::STAGES[$stage] ?? DeliveryState::Unknown;
        if (DeliveryState::Unknown === $state && Codes::FOREIGN !== $stage) {
            $this->pouch->keepUnknown('unknown_state', 'slip.stage', $stage, $opaque);
        }
        $flags = $row->int('flags');
        if (0 !== ($flags & ~Generation7::KNOWN_FLAGS)) {
            $this->pouch->keepUnknown('unknown_flag', 'slip.flags', $flags & ~Generation7::KNOWN_FLAGS, $opaque);
        }
        $sender = $row->nullableText('folk_handle');
        $handed = self::milliseconds($row->time('handed_s'));
        $read = self::milliseconds($row->time('read_s'));

        return new Message(
            $row->nullableText('wire_id'), null === $sender
                ? null
                : $this->personOf($sender), $row->bool('mine'), $kind, $row->nullableText('body'),
            $row->time('sent_ms') ?? 0, self::milliseconds($row->time('landed_s')),
            $state, 0 !== ($flags & Generation7::FLAG_STARRED), 0 !== ($flags & Generation7::FLAG_FORWARDED),
            $row->nullableText('answers_wire_id'), $this->notice($row, $opaque), $this->attachments($row), [],
            // Only direct rooms know when their one other person got a slip.
            null === $handed && null === $read
                ? []
                : [
                    new Receipt($conversation->key, $handed, $read, null),
                ], $opaque, $this->content($row, $kind, $opaque),
        );
    }

    /** @param array<string, scalar|null> $opaque */
    private function notice(TolerantRow $row, array &$opaque): ?Notice
    {
        $code = $row->nullableInt('notice_sort');
        if (null === $code) {
            return null;
        }
        $kind = Codes::NOTICE_SORTS[$code] ?? NoticeKind::Unknown;
        if (NoticeKind::Unknown === $kind) {
            $this->pouch->keepUnknown('unknown_notice', 'slip.notice_sort', $code, $opaque);
        }
        [$actor, $target] = [$row->nullableText('notice_folk'), $row->nullableText('notice_target')];

        return new Notice(
            $kind, null === $actor ? null : $this->personOf($actor), null === $target ? null : $this->personOf($target),
            $row->nullableText('notice_text'),
        );
    }

    /** @return list<Attachment> */
    private function attachments(TolerantRow $row): array
    {
        $name = $row->nullableText('parcel_name');
        if (null === $name) {
            return [];
        }
        $path = Generation4Schema::PARCELS.'/'.$name;
        $type = $row->nullableText('parcel_type') ?? 'application/octet-stream';
        $found = $this->files->look($path, $type);
        if (Presence::Refused === $found['presence']) {
            $this->store->finding('attachment_outside', 'slip.parcel_name', mb_scrub($name));
        }

        return [new Attachment(
            $path, $row->nullableText('parcel_shown'), $type, $found['presence']->hasBytes()
                ? $found['bytes']
                : $row->nullableInt('parcel_octets') ?? 0, $found['sha256'], $found['presence'],
            self::milliseconds(
                $row->time('parcel_span_s'),
            ), $row->nullableInt('parcel_width'), $row->nullableInt('parcel_height'),
            $this->store->preview($row->nullableText('parcel_peek'), 'slip.parcel_peek'),
        )];
    }

    /** @param array<string, scalar|null> $opaque */
    private function content(TolerantRow $row, Kind $kind, array &$opaque): ?Content
    {
        if (Kind::Place === $kind && null !== $row->nullableFloat('north') && null !== $row->nullableFloat('east')) {
            return new Place(
                $row->nullableFloat('north'), $row->nullableFloat('east'), $row->nullableText('spot_name'), null, null,
            );
        }
        if (Kind::ContactCard === $kind && null !== $row->nullableText('card')) {
            return new ContactCards([['name' => $row->nullableText('body'), 'vcard' => $row->text('card')]]);
        }
        $code = $row->nullableInt('ring_outcome');
        if (Kind::Call !== $kind || null === $code) {
            return null;
        }
        $outcome = Generation4Schema::RING_OUTCOMES[$code] ?? CallOutcome::Unknown;
        if (CallOutcome::Unknown === $outcome) {
            $this->pouch->keepUnknown('unknown_state', 'slip.ring_outcome', $code, $opaque);
        }

        return new Call(false, $outcome, self::milliseconds($row->time('ring_span_s')));
    }

    private function personOf(string $handle, ?string $bookName = null): string
    {
        $key = self::key($handle);
        if (!isset($this->people[$key])) {
            $this->people[$key] = true;
            $this->store->person(new Person($key, Handle::number($key), $bookName, null));
        } elseif (null !== $bookName) {
            $this->store->bookName($key, $bookName);
        }

        return $key;
    }

    private static function key(string $handle): string
    {
        return Handle::toKey($handle, Handle::ANDROID_SUFFIX);
    }

    private static function milliseconds(?int $seconds): ?int
    {
        return null === $seconds || abs($seconds) > intdiv(Times::LIMIT, 1000) ? null : $seconds * 1000;
    }
}
