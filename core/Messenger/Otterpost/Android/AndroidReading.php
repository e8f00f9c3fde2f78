<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Chat\Attachment;
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
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Pouch;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreWriter;

/** One pass over one generation 7 database. */
final class AndroidReading
{
    /** @var array<int, string> person key by folk_id */
    private array $folk = [];
    private readonly Database $database;

    public function __construct(
        private readonly Pouch $pouch,
        private readonly AttachmentFiles $files,
        private readonly StoreWriter $store,
        private readonly Progress $progress,
    ) {
        $this->database = $pouch->database;
    }

    public function all(): void
    {
        $this->progress->phase('reading', $this->database->one('SELECT COUNT(*) AS n FROM slip')?->int('n') ?? 0);
        $this->source();
        $this->people();
        foreach ($this->database->rows($this->pouch->select('room', 'ORDER BY room_id')) as $row) {
            $this->slips($row->int('room_id'), $this->store->conversation($this->conversation($row)));
        }
        foreach ($this->database->rows('SELECT DISTINCT room_id FROM slip WHERE room_id NOT IN (SELECT room_id FROM room)') as $row) {
            // The room is gone and its slips are not: they get a room of their own rather than being dropped.
            $this->store->finding('room_gone', 'slip.room_id', (string) $row->int('room_id'));
            $lost = new Conversation('room-'.$row->int('room_id'), ConversationKind::Unknown, null, null, null, false, null, null, 0, null, []);
            $this->slips($row->int('room_id'), $this->store->conversation($lost));
        }
    }

    private function source(): void
    {
        $holt = [];
        foreach ($this->database->few($this->pouch->select('holt')) as $row) {
            $holt[$row->text('name')] = $row->nullableText('value');
        }
        $this->store->source(new Source('Otterpost', $holt['edition'] ?? 'Otterpost', 'android', Schema::GENERATION, Handle::toKey($holt['own_handle'] ?? '', Handle::ANDROID_SUFFIX), $holt['own_name'] ?? null));
    }

    private function people(): void
    {
        foreach ($this->database->rows($this->pouch->select('folk', 'ORDER BY folk_id')) as $row) {
            $key = Handle::toKey($row->text('handle'), Handle::ANDROID_SUFFIX);
            $this->folk[$row->int('folk_id')] = $key;
            $this->store->person(new Person($key, Handle::number($key), $row->nullableText('book_name'), $row->nullableText('own_name'), $row->bool('barred')));
        }
    }

    private function conversation(Row $row): Conversation
    {
        $members = [];
        foreach ($this->database->few($this->pouch->select('room_folk', 'WHERE room_id = ? ORDER BY folk_id'), [$row->int('room_id')]) as $member) {
            $role = Codes::RANKS[$member->int('rank')] ?? MemberRole::Member;
            $members[] = new Member($this->personOf($member->int('folk_id')), $role, $member->nullableInt('since_ms'), $member->nullableInt('until_ms'));
        }
        $opaque = $this->pouch->withUnknownColumns('room', $row, SafeJson::map($row->nullableText('foreign_json')));
        $kind = Codes::ROOM_SORTS[$row->int('sort')] ?? ConversationKind::Unknown;
        if (ConversationKind::Unknown === $kind && Codes::FOREIGN !== $row->int('sort')) {
            $this->pouch->keepUnknown('unknown_conversation_kind', 'room.sort', $row->int('sort'), $opaque);
        }

        return new Conversation(
            Handle::toKey($row->text('handle'), Handle::ANDROID_SUFFIX), $kind, $row->nullableText('title'), $row->nullableText('about'), $row->nullableInt('founded_ms'),
            $row->bool('shelved'), $row->nullableInt('pin_place'), $row->nullableInt('hush_until_ms'), $row->int('unread'), $row->nullableText('wallpaper'), $members, $opaque,
        );
    }

    private function slips(int $roomId, int $conversationId): void
    {
        foreach ($this->database->rows($this->pouch->select('slip', 'WHERE room_id = ? ORDER BY slip_id'), [$roomId]) as $row) {
            $this->store->message($conversationId, $this->message($row));
            $this->progress->advance(1);
        }
    }

    private function message(Row $row): Message
    {
        $slipId = $row->int('slip_id');
        $opaque = $this->pouch->withUnknownColumns('slip', $row, SafeJson::map($row->nullableText('foreign_json')));
        $kind = Codes::SLIP_SORTS[$row->int('sort')] ?? Kind::Unknown;
        if (Kind::Unknown === $kind && Codes::FOREIGN !== $row->int('sort')) {
            $this->pouch->keepUnknown('unknown_kind', 'slip.sort', $row->int('sort'), $opaque);
        }
        $state = Codes::STAGES[$row->int('stage')] ?? DeliveryState::Unknown;
        if (DeliveryState::Unknown === $state && Codes::FOREIGN !== $row->int('stage')) {
            $this->pouch->keepUnknown('unknown_state', 'slip.stage', $row->int('stage'), $opaque);
        }
        $flags = $row->int('flags');
        if (0 !== ($flags & ~Schema::KNOWN_FLAGS)) {
            $this->pouch->keepUnknown('unknown_flag', 'slip.flags', $flags & ~Schema::KNOWN_FLAGS, $opaque);
        }
        $folkId = $row->nullableInt('folk_id');

        return new Message(
            $row->nullableText('wire_id'), null === $folkId ? null : $this->personOf($folkId), $row->bool('mine'), $kind, $row->nullableText('body'), $row->int('sent_ms'), $row->nullableInt('landed_ms'),
            $state, 0 !== ($flags & Schema::FLAG_STARRED), 0 !== ($flags & Schema::FLAG_FORWARDED), $row->nullableText('answers_wire_id'), $this->notice($row, $opaque),
            $this->attachments($slipId), $this->reactions($slipId), $this->receipts($slipId), $opaque,
        );
    }

    /** @param array<string, scalar|null> $opaque */
    private function notice(Row $row, array &$opaque): ?Notice
    {
        $code = $row->nullableInt('notice_sort');
        if (null === $code) {
            return null;
        }
        $kind = Codes::NOTICE_SORTS[$code] ?? NoticeKind::Unknown;
        if (NoticeKind::Unknown === $kind && Codes::FOREIGN !== $code) {
            $this->pouch->keepUnknown('unknown_notice', 'slip.notice_sort', $code, $opaque);
        }
        $person = fn (string $column): ?string => null === $row->nullableInt($column) ? null : $this->personOf($row->int($column));

        return new Notice($kind, $person('notice_folk_id'), $person('notice_target_id'), $row->nullableText('notice_text'));
    }

    /** @return list<Attachment> */
    private function attachments(int $slipId): array
    {
        $list = [];
        foreach ($this->database->few($this->pouch->select('parcel', 'WHERE slip_id = ? ORDER BY parcel_id'), [$slipId]) as $row) {
            $path = Schema::PARCELS.'/'.$row->text('store_name');
            $found = $this->files->look($path);
            if (Presence::Refused === $found['presence']) {
                $this->store->finding('attachment_outside', 'parcel.store_name', $row->text('store_name'));
            }
            $list[] = new Attachment(
                $path, $row->nullableText('shown_name'), $row->text('media_type'), Presence::Present === $found['presence'] ? $found['bytes'] : $row->int('octets'), $found['sha256'], $found['presence'],
                $row->nullableInt('span_ms'), $row->nullableInt('width'), $row->nullableInt('height'), $row->nullableText('peek'),
            );
        }

        return $list;
    }

    /** @return list<Reaction> */
    private function reactions(int $slipId): array
    {
        return array_map(
            fn (Row $row): Reaction => new Reaction(null === $row->nullableInt('folk_id') ? null : $this->personOf($row->int('folk_id')), $row->text('sign'), $row->nullableInt('given_ms')),
            $this->database->few($this->pouch->select('nod', 'WHERE slip_id = ?'), [$slipId]),
        );
    }

    /** @return list<Receipt> */
    private function receipts(int $slipId): array
    {
        return array_map(
            fn (Row $row): Receipt => new Receipt($this->personOf($row->int('folk_id')), $row->nullableInt('handed_ms'), $row->nullableInt('read_ms'), $row->nullableInt('heard_ms')),
            $this->database->few($this->pouch->select('mark', 'WHERE slip_id = ?'), [$slipId]),
        );
    }

    private function personOf(int $folkId): string
    {
        if (!isset($this->folk[$folkId])) {
            $this->folk[$folkId] = 'folk-'.$folkId;
            $this->store->person(new Person($this->folk[$folkId], null, null, null));
            $this->store->finding('person_gone', 'folk', (string) $folkId);
        }

        return $this->folk[$folkId];
    }
}
