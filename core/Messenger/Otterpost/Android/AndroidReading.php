<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Chat\Times;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\MentionRange;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\TolerantRow;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\CodeMap;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\AttachedRows;
use Geschenk\Core\Store\BulkFill;
use Geschenk\Core\Store\PlainRows;
use Geschenk\Core\Store\RoomRange;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\Store\UnusualRows;

/**
 * One pass over one generation 7 database: rooms in their order, the slips of each. Plain slips are moved by SQL; the
 * others are made objects, whose own types look at the values: a row that breaks its table's promise costs that row
 * alone.
 */
class AndroidReading
{
    /** The rank of a member of whom nothing else is said. */
    private const RANK_OF_MOST = 0;
    /** Columns that hold a slip in its place and say nothing of it. */
    private const STRUCTURE = ['slip_id', 'room_id'];
    /** How many columns the official slip table has. */
    private const SLIP_COLUMNS = 20;
    /** Kinds that have a table of their own beside the slip. */
    private const WITH_CONTENT = [
        Kind::Place->value => true, Kind::LivePlace->value => true, Kind::ContactCard->value => true,
        Kind::Poll->value => true, Kind::Call->value => true,
        Kind::CatalogueItem->value => true, Kind::Deleted->value => true,
    ];

    /** @var array<int, string> person key by folk_id */
    private array $folk = [];
    /** @var array<string, true> keys of people */
    private array $people = [];
    protected readonly Database $database;
    private BulkFill $fill;
    /** Whether any slip is odd for something beside it. */
    private bool $areSomeOdd = true;

    public function __construct(
        protected readonly FormatDatabase $pouch,
        private readonly AttachmentFiles $files,
        protected readonly StoreWriter $store,
        private readonly Progress $progress,
        private readonly bool $inBulk = true,
    ) {
        $this->database = $pouch->database;
    }

    public function all(): void
    {
        $this->progress->phase('reading', $this->database->one('SELECT COUNT(*) AS n FROM slip')?->int('n') ?? 0);
        $this->store->source($this->source());
        $this->pouch->listUnknownColumns(
            'holt', 'folk', 'folk_number', 'spot', 'card', 'ballot', 'ballot_answer', 'ballot_vote', 'ring', 'link',
            'offer', 'withdrawn',
        );
        $this->people();
        $this->business();
        $this->fill = new BulkFill(
            $this->store, $this->pouch->path(), 'SELECT slip_id FROM source.slip ORDER BY room_id, slip_id',
            'SELECT room_id, COUNT(*) FROM source.slip GROUP BY room_id ORDER BY room_id', $this->inBulk,
        );
        $this->prepare($this->fill->database);
        $rooms = [];
        foreach ($this->fill->rooms() as $range) {
            $rooms[serialize($range['room'])] = $range;
        }
        foreach ($this->database->rows($this->pouch->select('room', 'ORDER BY room_id')) as $row) {
            $room = $row->int('room_id');
            $range = $rooms[serialize($room)] ?? ['first' => 1, 'messages' => 0];
            unset($rooms[serialize($room)]);
            $this->room(
                $room,
                $this->pouch->attempt(
                    'room', fn (): Conversation => $this->conversation($row),
                ) ?? self::roomOfItsOwn((string) $room),
                $range,
            );
        }
        // Slips of rooms that no row tells of get a conversation of their own rather than being dropped.
        foreach ($rooms as $range) {
            $name = is_scalar($range['room']) ? (string) $range['room'] : 'unknown';
            $this->store->finding('room_gone', 'slip.room_id', $name);
            $this->room($range['room'], self::roomOfItsOwn($name), $range);
        }
        $this->fill->finish();
    }

    protected function edition(?string $told): string
    {
        return Otterpost::edition(
            $told, $this->pouch->has('label') ? Otterpost::COUNTER : Otterpost::ORDINARY, 'holt.edition',
            $this->store,
        );
    }

    /** A last look at a conversation. */
    protected function finishConversation(TolerantRow $row, Conversation $conversation): Conversation
    {
        return $conversation;
    }

    /**
     * A last look at a message.
     *
     * @param list<mixed> $beyond values of columns that only this edition has
     */
    protected function finishMessage(Message $message, array $beyond): Message
    {
        return $message;
    }

    private function source(): Source
    {
        $holt = [];
        foreach ($this->database->few($this->pouch->select('holt')) as $row) {
            $holt[$row->nullableText('name') ?? ''] = $row->nullableText('value');
        }

        return new Source(
            Otterpost::NAME, $this->edition($holt['edition'] ?? null), Platform::Android, AndroidSchema::GENERATION,
            Handle::toKey($holt['own_handle'] ?? '', Handle::ANDROID_SUFFIX), $holt['own_name'] ?? null,
        );
    }

    private function people(): void
    {
        $numbers = [];
        foreach ($this->database->rows($this->pouch->select('folk_number', 'ORDER BY folk_id, place')) as $row) {
            $row = $this->pouch->tolerant('folk_number', $row);
            $numbers[$row->int('folk_id')][] = $row->text('number');
        }
        foreach ($this->database->rows($this->pouch->select('folk', 'ORDER BY folk_id')) as $row) {
            $this->pouch->attempt(
                'folk',
                fn () => $this->person($this->pouch->tolerant('folk', $row), $numbers[$row->int('folk_id')] ?? []),
            );
        }
    }

    /** @param list<string> $numbers */
    private function person(TolerantRow $row, array $numbers): void
    {
        $id = $row->int('folk_id');
        $key = Handle::toKey($row->nullableText('handle') ?? 'person-'.$id, Handle::ANDROID_SUFFIX);
        if (isset($this->people[$key])) {
            $this->store->finding('person_twice', 'folk', $key);
        }
        $this->people[$key] = true;
        $former = $row->nullableText('former_handle');
        $this->store->person(new Person(
            $key, Handle::number($key), $row->nullableText('book_name'), $row->nullableText('own_name'),
            $row->bool('barred'), $numbers, null === $former
                ? null
                : Handle::toKey($former, Handle::ANDROID_SUFFIX),
        ));
        $this->folk[$id] = $key;
    }

    /** For messages whose conversation can't be read or is gone. */
    private static function roomOfItsOwn(string $name): Conversation
    {
        return new Conversation(
            'conversation-'.$name, ConversationKind::Unknown, null, null, null, false, null, null, 0, null, [],
        );
    }

    /** Labels and canned answers of the business edition. */
    private function business(): void
    {
        if (!$this->pouch->has('label')) {
            return;
        }
        $this->pouch->listUnknownColumns('label', 'room_label', 'canned');
        foreach ($this->database->rows($this->pouch->select('label', 'ORDER BY label_id')) as $row) {
            $row = $this->pouch->tolerant('label', $row);
            $this->store->label(new Label($row->text('name'), $row->int('tint')));
        }
        foreach ($this->database->rows($this->pouch->select('canned', 'ORDER BY canned_id')) as $row) {
            $row = $this->pouch->tolerant('canned', $row);
            $this->store->cannedAnswer(new CannedAnswer($row->text('shortcut'), $row->text('body')));
        }
    }

    private function conversation(Row $found): Conversation
    {
        $row = $this->pouch->tolerant('room', $found);
        $room = $row->int('room_id');
        $opaque = $this->pouch->withUnknownColumns(
            'room', array_values($found->values),
            $this->pouch->foreignJson($row->nullableText('foreign_json'), 'room.foreign_json'),
        );
        $members = [];
        foreach ($this->database->few(
            $this->pouch->select('room_folk', 'WHERE room_id = ? ORDER BY folk_id'), [$room],
        ) as $member) {
            $members[] = $this->pouch->attempt('room_folk', function () use ($member, &$opaque): Member {
                return $this->member($member, $opaque);
            });
        }
        $sort = $row->nullableInt('sort');
        $kind = Codes::ROOM_SORTS[$sort ?? Codes::FOREIGN] ?? ConversationKind::Unknown;
        if (null !== $sort && ConversationKind::Unknown === $kind && Codes::FOREIGN !== $sort) {
            $this->pouch->keepUnknown('unknown_conversation_kind', 'room.sort', $sort, $opaque);
        }

        return $this->finishConversation($row, new Conversation(
            Handle::toKey(
                $row->text('handle', 'conversation-'.$room), Handle::ANDROID_SUFFIX,
            ), $kind, $row->nullableText('title'), $row->nullableText('about'), $row->time('founded_ms'),
            $row->bool('shelved'), $row->nullableInt('pin_place'), $row->time('hush_until_ms'), $row->int('unread'),
            $row->nullableText('wallpaper'), self::usable($members), $opaque,
            $row->nullableInt('fade_s'), $row->nullableText('draft'), $row->bool('marked_unread'),
            $row->nullableText('picture'), $this->labels($room),
        ));
    }

    /** @param array<string, scalar|null> $opaque of the room */
    private function member(Row $found, array &$opaque): Member
    {
        $row = $this->pouch->tolerant('room_folk', $found);
        $key = $this->personOf($found->int('folk_id'));
        $opaque = $this->pouch->withUnknownColumns(
            'room_folk', array_values($found->values), $opaque, 'room_folk.'.$key,
        );
        $rank = $row->nullableInt('rank') ?? self::RANK_OF_MOST;
        if (!isset(Codes::RANKS[$rank])) {
            $this->pouch->keepUnknown('unknown_rank', 'room_folk.rank '.$key, $rank, $opaque);
        }

        return new Member(
            $key, Codes::RANKS[$rank] ?? MemberRole::Member, $row->time('since_ms'), $row->time('until_ms'),
        );
    }

    /** @return list<string> */
    private function labels(int $room): array
    {
        if (!$this->pouch->has('room_label')) {
            return [];
        }

        return array_map(
            static fn (Row $row): string => $row->nullableText('name') ?? '',
            $this->database->few(
                'SELECT CAST(l.name AS BLOB) AS name FROM room_label r JOIN label l USING (label_id) '
                    .'WHERE r.room_id = ? ORDER BY r.place',
                [$room],
            ),
        );
    }

    /**
     * What the statements that move plain slips need to know: people, and which slips are not plain for something
     * beside them.
     */
    private function prepare(Database $bulk): void
    {
        $bulk->execute(
            'CREATE TEMP TABLE folk (folk_id INTEGER PRIMARY KEY, key TEXT NOT NULL); '
                .'CREATE TEMP TABLE odd (slip_id INTEGER PRIMARY KEY)',
        );
        foreach ($this->folk as $id => $key) {
            if (SafeJson::isPlain($key)) {
                $bulk->run('INSERT INTO temp.folk VALUES (?, ?)', [$id, $key]);
            }
        }
        $bulk->define(
            'is_plain', static fn (mixed $text): int => is_string($text) && SafeJson::isPlain($text) ? 1 : 0, 1,
        );
        $areNumbers = static fn (string ...$columns): string => implode(
            '', array_map(static fn (string $c): string => " AND typeof(c.$c) IN ('integer', 'null')", $columns),
        );
        $areTimes = static fn (string ...$columns): string => $areNumbers(...$columns).implode(
            '', array_map(static fn (string $c): string => ' AND '.Times::sqlIsNear('c.'.$c), $columns),
        );
        $bulk->execute(
            'INSERT OR IGNORE INTO temp.odd SELECT slip_id FROM source.mention; INSERT OR IGNORE INTO temp.odd '
                .'SELECT slip_id FROM source.link',
        );
        $bulk->execute('INSERT OR IGNORE INTO temp.odd SELECT c.slip_id FROM source.parcel c '
            ."WHERE NOT (typeof(c.store_name) = 'text' AND typeof(c.shown_name) IN ('text', 'null') "
            ."AND typeof(c.media_type) = 'text' AND typeof(c.octets) = 'integer' "
            ."AND typeof(c.peek) IN ('blob', 'null') AND (c.peek IS NULL OR length(c.peek) > 0)"
            .$areTimes('span_ms').$areNumbers('width', 'height').$this->pouch->holdsNothingUnknown('parcel', 'c').')');
        $this->lists(
            $bulk, 'nod', 'c.sign, c.given_ms',
            "(c.folk_id IS NULL OR p.key IS NOT NULL) AND typeof(c.sign) = 'text' AND is_plain(c.sign)"
                .$areTimes('given_ms'),
        );
        $this->lists(
            $bulk, 'mark', 'c.handed_ms, c.read_ms, c.heard_ms',
            'p.key IS NOT NULL'.$areTimes('handed_ms', 'read_ms', 'heard_ms'),
        );
        $this->areSomeOdd = null !== $bulk->one('SELECT 1 AS here FROM temp.odd LIMIT 1');
    }

    /** @param array{room?: mixed, first: int, messages: int} $range */
    private function room(mixed $room, Conversation $conversation, array $range): void
    {
        $id = $this->store->conversationAt($conversation, $range['first'], $range['messages']);
        $from = 'FROM temp.unusual o CROSS JOIN source.slip s ON s.slip_id = o.source_id';
        $this->fill->fill(
            new RoomRange($id, $range['first'], $range['messages']), $this->plain(),
            new UnusualRows(
                $this->pouch->columns('slip', 's').' '.$from, $this->message(...),
                function (array $values, \Throwable $error): void { $this->pouch->rowUnreadable('slip', $error); },
            ),
            new AttachedRows(
                $this->pouch->columns('parcel', 'c')
                    .' FROM temp.ordering o CROSS JOIN source.parcel c ON c.slip_id = o.source_id '
                    .'WHERE NOT EXISTS (SELECT 1 FROM temp.odd WHERE odd.slip_id = o.source_id)',
                fn (array $values): Attachment => $this->attachment(array_slice($values, 1)),
            ),
            $this->progress,
        );
        $this->fill->partsLost(
            $conversation->title ?? $conversation->key, $range['first'], $range['messages'],
            $this->pouch->damage()?->parts(['parcel_of_slip', 'nod_of_slip', 'mark_of_slip', 'mention_of_slip']) ?? [],
        );
        $lost = is_int($room) ? $this->pouch->damage()?->lostBy('slip_in_room', $room) ?? 0 : 0;
        if ($lost > 0) {
            $this->store->lost($id, $lost);
        }
    }

    /** Columns of a plain slip as a chat store wants them, and the condition for being one. */
    private function plain(): PlainRows
    {
        $kinds = array_filter(
            Codes::SLIP_SORTS,
            static fn (Kind $kind): bool => Kind::Notice !== $kind && !isset(self::WITH_CONTENT[$kind->value]),
        );
        $marks = sprintf(
            '((s.flags & %d) <> 0) * %d | ((s.flags & %d) <> 0) * %d', AndroidSchema::FLAG_STARRED,
            StoreSchema::MARK_STARRED,
            AndroidSchema::FLAG_FORWARDED, StoreSchema::MARK_FORWARDED,
        );

        $columns = 's.wire_id, s.wire_id, f.key, s.mine <> 0, '.CodeMap::toValue('s.sort', $kinds)
            .', s.body, s.sent_ms, s.landed_ms, '.CodeMap::toValue(
                's.stage', Codes::STAGES,
            ).", $marks, s.answers_wire_id, n.list, m.list, NULL";
        $joins = 'CROSS JOIN source.slip s ON s.slip_id = o.source_id LEFT '
            .'JOIN temp.folk f ON f.folk_id = s.folk_id LEFT JOIN temp.nod_list n ON n.slip_id = s.slip_id LEFT '
            .'JOIN temp.mark_list m ON m.slip_id = s.slip_id';
        $where = CodeMap::isIn('s.sort', $kinds).' AND '.CodeMap::isIn(
            's.stage', Codes::STAGES,
        )." AND typeof(s.wire_id) = 'text' AND s.wire_id <> '' AND typeof(s.body) IN ('text', 'null') "
            ."AND typeof(s.answers_wire_id) IN ('text', 'null')"
            .' AND '.Times::sqlIsNear('s.landed_ms').sprintf(
                " AND typeof(s.sent_ms) = 'integer' AND s.sent_ms > 0 AND s.sent_ms <= %d "
                    ."AND typeof(s.landed_ms) IN ('integer', 'null') AND typeof(s.mine) = 'integer' "
                    ."AND typeof(s.flags) = 'integer' AND (s.flags & ~%d) = 0",
                $this->store->horizon, AndroidSchema::KNOWN_FLAGS,
            )
            .' AND (s.folk_id IS NULL OR f.folk_id IS NOT NULL)'
            .($this->areSomeOdd ? ' AND NOT EXISTS (SELECT 1 FROM temp.odd WHERE odd.slip_id = s.slip_id)' : '');
        $rest = $this->pouch->holdsNothingElse('slip', 's', $columns.$joins.$where, self::STRUCTURE);

        return new PlainRows($columns, $joins, $where.$rest);
    }

    /**
     * What belongs to slips as JSON, in the order of the entries' own JSON, for all slips in one go; a slip with an
     * entry that is not plain is odd.
     *
     * @param string $columns of an entry after the person
     */
    private function lists(Database $bulk, string $table, string $columns, string $isPlain): void
    {
        $rest = $this->pouch->holdsNothingElse($table, 'c', $columns.$isPlain, ['slip_id', 'folk_id']);
        $entry = "CASE WHEN $isPlain$rest THEN json_array(p.key, $columns) END";
        $bulk->execute("
            CREATE TEMP TABLE {$table}_list (slip_id INTEGER PRIMARY KEY, list TEXT, is_odd INTEGER NOT NULL);
            INSERT INTO temp.{$table}_list SELECT slip_id, '[' || group_concat(entry) || ']', MAX(entry IS NULL) FROM (
                SELECT c.slip_id, $entry AS entry FROM source.$table c LEFT JOIN temp.folk p ON p.folk_id = c.folk_id
                    WHERE typeof(c.slip_id) = 'integer' ORDER BY 1, 2
            ) GROUP BY slip_id;
            INSERT OR IGNORE INTO temp.odd SELECT slip_id FROM temp.{$table}_list WHERE is_odd");
    }

    /** @param list<mixed> $values */
    private function message(array $values): Message
    {
        $row = $this->pouch->row('slip', $values);
        $body = $row->nullableText('body');
        $opaque = $this->pouch->withUnknownColumns(
            'slip', $values, $this->pouch->foreignJson($row->nullableText('foreign_json'), 'slip.foreign_json'),
        );
        $sort = $row->int('sort', Codes::FOREIGN);
        $kind = Codes::SLIP_SORTS[$sort] ?? Kind::Unknown;
        if (Kind::Unknown === $kind && Codes::FOREIGN !== $sort) {
            $this->pouch->keepUnknown('unknown_kind', 'slip.sort', $sort, $opaque);
        }
        $stage = $row->int('stage', Codes::FOREIGN);
        $state = Codes::STAGES[$stage] ?? DeliveryState::Unknown;
        if (DeliveryState::Unknown === $state && Codes::FOREIGN !== $stage) {
            $this->pouch->keepUnknown('unknown_state', 'slip.stage', $stage, $opaque);
        }
        $flags = $row->int('flags');
        if (0 !== ($flags & ~AndroidSchema::KNOWN_FLAGS)) {
            $this->pouch->keepUnknown('unknown_flag', 'slip.flags', $flags & ~AndroidSchema::KNOWN_FLAGS, $opaque);
        }
        $viewOnce = null;
        $once = $row->nullableInt('once');
        if (null !== $once) {
            $viewOnce = Codes::ONCE[$once] ?? null;
            if (null === $viewOnce) {
                $this->pouch->keepUnknown('unknown_flag', 'slip.once', $once, $opaque);
            }
        }
        $noticeSort = $row->nullableInt('notice_sort');
        $notice = null === $noticeSort
            ? null
            : $this->notice(
                $noticeSort, $row->nullableInt('notice_folk_id'), $row->nullableInt('notice_target_id'),
                $row->nullableText('notice_text'), $opaque,
            );
        $folkId = $row->nullableInt('folk_id');
        $mentions = $this->mentions($body ?? '', $opaque);
        $attachments = $this->attachments($opaque);
        $reactions = $this->reactions($opaque);
        $receipts = $this->receipts($opaque);
        $content = $this->pouch->attempt('content', function () use ($kind, &$opaque): ?Content {
            return isset(self::WITH_CONTENT[$kind->value]) ? $this->content($kind, $opaque) : $this->link();
        });

        return $this->finishMessage(new Message(
            $row->nullableText('wire_id'), null === $folkId
                ? null
                : $this->personOf($folkId), $row->bool('mine'), $kind, $body, $row->time('sent_ms')
                    ?? 0, $row->time('landed_ms'), $state, 0 !== ($flags & AndroidSchema::FLAG_STARRED),
            0 !== ($flags & AndroidSchema::FLAG_FORWARDED),
            $row->nullableText('answers_wire_id'), $notice, $attachments, $reactions, $receipts, $opaque, $content,
            $row->time('edited_ms'), $row->time('fades_ms'), $viewOnce, null, $mentions,
        ), array_slice($values, self::SLIP_COLUMNS));
    }

    /** @param array<string, scalar|null> $opaque */
    private function notice(int $code, ?int $folk, ?int $target, ?string $text, array &$opaque): Notice
    {
        $kind = Codes::NOTICE_SORTS[$code] ?? NoticeKind::Unknown;
        if (NoticeKind::Unknown === $kind && Codes::FOREIGN !== $code) {
            $this->pouch->keepUnknown('unknown_notice', 'slip.notice_sort', $code, $opaque);
        }

        return new Notice(
            $kind, null === $folk ? null : $this->personOf($folk), null === $target ? null : $this->personOf($target),
            $text,
        );
    }

    /**
     * @param array<string, scalar|null> $opaque
     *
     * @return list<Attachment>
     */
    private function attachments(array &$opaque): array
    {
        $list = [];
        foreach ($this->besideSlip('parcel', 'c.parcel_id') as $place => $values) {
            $list[] = $this->pouch->attempt('parcel', fn (): Attachment => $this->attachment($values));
            $opaque = $this->pouch->withUnknownColumns('parcel', $values, $opaque, 'parcel.'.$place);
        }

        return self::usable($list);
    }

    /** @param list<mixed> $values */
    private function attachment(array $values): Attachment
    {
        $row = $this->pouch->row('parcel', $values);
        $name = $row->text('store_name');
        $type = $row->text('media_type', 'application/octet-stream');
        $path = AndroidSchema::PARCELS.'/'.$name;
        $found = $this->files->look($path, $type);
        if (Presence::Refused === $found['presence']) {
            $this->store->finding('attachment_outside', 'parcel.store_name', $name);
        }

        return new Attachment(
            $path, $row->nullableText('shown_name'), $type, $found['presence']->hasBytes()
                ? $found['bytes']
                : $row->int('octets'), $found['sha256'], $found['presence'],
            $row->time('span_ms'), $row->nullableInt('width'), $row->nullableInt('height'),
            $this->store->preview($row->nullableText('peek'), 'parcel.peek'),
        );
    }

    /**
     * @param array<string, scalar|null> $opaque
     *
     * @return list<Reaction>
     */
    private function reactions(array &$opaque): array
    {
        $list = [];
        foreach ($this->besideSlip('nod') as $place => $values) {
            $opaque = $this->pouch->withUnknownColumns('nod', $values, $opaque, 'nod.'.$place);
            $row = $this->pouch->row('nod', $values);
            $folk = $row->nullableInt('folk_id');
            // Nobody stands for the owner; somebody who can't be read does not.
            if (null === $values[1] || null !== $folk) {
                $list[] = new Reaction(
                    null === $folk ? null : $this->personOf($folk), $row->text('sign'), $row->time('given_ms'),
                );
            }
        }

        return $list;
    }

    /**
     * @param array<string, scalar|null> $opaque
     *
     * @return list<Receipt>
     */
    private function receipts(array &$opaque): array
    {
        $list = [];
        foreach ($this->besideSlip('mark') as $place => $values) {
            $opaque = $this->pouch->withUnknownColumns('mark', $values, $opaque, 'mark.'.$place);
            $row = $this->pouch->row('mark', $values);
            $folk = $row->nullableInt('folk_id');
            if (null === $folk) {
                $this->store->finding('row_unreadable', 'mark', 'nobody');
                continue;
            }
            $list[] = new Receipt(
                $this->personOf($folk), $row->time('handed_ms'), $row->time('read_ms'), $row->time('heard_ms'),
            );
        }

        return $list;
    }

    /**
     * @param array<string, scalar|null> $opaque
     *
     * @return list<Mention>
     */
    private function mentions(string $text, array &$opaque): array
    {
        $list = [];
        foreach ($this->besideSlip('mention', 'c.from_byte') as $place => $values) {
            $opaque = $this->pouch->withUnknownColumns('mention', $values, $opaque, 'mention.'.$place);
            $list[] = $this->pouch->attempt('mention', function () use ($values, $text, $place, &$opaque): ?Mention {
                $row = $this->pouch->row('mention', $values);
                [$who, $from, $bytes] = [
                    $this->personOf($row->int('folk_id')), $row->int('from_byte', -1), $row->int('bytes'),
                ];
                if (null !== MentionRange::toUnits($text, $from, $bytes)) {
                    return new Mention($who, $from, $bytes);
                }
                $this->pouch->keepUnknown(
                    'mention_misplaced', 'mention.'.$place, sprintf('%s %d+%d', $who, $from, $bytes), $opaque,
                );

                return null;
            });
        }

        return self::usable($list);
    }

    /**
     * What is left of rows that each cost nothing but themselves.
     *
     * @template T of object
     *
     * @param list<T|null> $list
     *
     * @return list<T>
     */
    private static function usable(array $list): array
    {
        return array_values(array_filter($list, static fn (?object $entry): bool => null !== $entry));
    }

    private function link(): ?LinkPreview
    {
        foreach ($this->besideSlip('link') as $values) {
            $row = $this->pouch->row('link', $values);

            return new LinkPreview($row->text('url'), $row->nullableText('title'), $row->nullableText('summary'));
        }

        return null;
    }

    /** @param array<string, scalar|null> $opaque */
    private function content(Kind $kind, array &$opaque): ?Content
    {
        $link = $this->link();
        if (null !== $link) {
            $this->pouch->keepUnknown('unknown_detail', 'link.url', $link->url, $opaque);
        }
        $one = function (string $table): ?TolerantRow {
            $values = $this->besideSlip($table)[0] ?? null;

            return null === $values ? null : $this->pouch->row($table, $values);
        };

        return match ($kind) {
            Kind::Place, Kind::LivePlace => null === ($row = $one('spot'))
                ? null
                : new Place(
                    $row->nullableFloat('north') ?? 0.0, $row->nullableFloat('east') ?? 0.0, $row->nullableText('name'),
                    $row->nullableText('address'), $row->time('live_until_ms'),
                ),
            Kind::ContactCard => $this->cards(),
            Kind::Poll => null === ($row = $one('ballot'))
                ? null
                : new Poll($row->bool('several'), $row->time('closed_ms'), $this->answers()),
            Kind::Call => null === ($row = $one('ring'))
                ? null
                : new Call(
                    $row->bool('film'), $this->outcome($row->int('outcome', Codes::FOREIGN), $opaque),
                    $row->time('span_ms'),
                ),
            Kind::CatalogueItem => null === ($row = $one('offer'))
                ? null
                : new CatalogueItem(
                    $row->text('article'), $row->text('name'), $row->nullableInt('price_minor'),
                    $row->nullableText('currency'),
                ),
            Kind::Deleted => null === ($row = $one('withdrawn'))
                ? null
                : new Deletion(
                    null === $row->nullableInt('folk_id') ? null : $this->personOf($row->int('folk_id')),
                    $row->time('withdrawn_ms'),
                ),
            default => null,
        };
    }

    private function cards(): ?ContactCards
    {
        $cards = array_map(function (array $values): array {
            $row = $this->pouch->row('card', $values);

            return ['name' => $row->nullableText('name'), 'vcard' => $row->text('vcard')];
        }, $this->besideSlip('card', 'c.place, c.rowid'));

        return [] === $cards ? null : new ContactCards($cards);
    }

    /** @return list<array{text: string, votes: list<array{who: string|null, at: int|null}>}> */
    private function answers(): array
    {
        $votes = [];
        foreach ($this->besideSlip('ballot_vote', 'c.place, c.rowid') as $values) {
            $vote = $this->pouch->row('ballot_vote', $values);
            $folk = $vote->nullableInt('folk_id');
            if (null === $folk && !$vote->isNull('folk_id')) {
                // Somebody who can't be read is not the owner.
                continue;
            }
            $votes[$vote->int('place')][] = [
                'who' => null === $folk ? null : $this->personOf($folk), 'at' => $vote->time('given_ms'),
            ];
        }

        $answers = [];
        foreach ($this->besideSlip('ballot_answer', 'c.place, c.rowid') as $values) {
            $row = $this->pouch->row('ballot_answer', $values);
            $answers[] = ['text' => $row->text('body'), 'votes' => $votes[$row->int('place')] ?? []];
            unset($votes[$row->int('place')]);
        }
        if ([] !== $votes) {
            $this->store->finding('vote_without_answer', 'ballot_vote', null, array_sum(array_map(count(...), $votes)));
        }

        return $answers;
    }

    /**
     * What belongs to the slip that is being made.
     *
     * @param string $order of a row called c
     *
     * @return list<list<mixed>> in the order of FormatDatabase::columns()
     */
    private function besideSlip(string $table, string $order = 'c.rowid'): array
    {
        return $this->fill->beside($this->pouch->columns($table, 'c'), $table, 'slip_id', $order);
    }

    /** @param array<string, scalar|null> $opaque */
    private function outcome(int $code, array &$opaque): CallOutcome
    {
        $outcome = Codes::RING_OUTCOMES[$code] ?? CallOutcome::Unknown;
        if (CallOutcome::Unknown === $outcome && Codes::FOREIGN !== $code) {
            $this->pouch->keepUnknown('unknown_state', 'ring.outcome', $code, $opaque);
        }

        return $outcome;
    }

    private function personOf(int $folkId): string
    {
        if (!isset($this->folk[$folkId])) {
            $this->folk[$folkId] = 'person-'.$folkId;
            $this->store->person(new Person($this->folk[$folkId], null, null, null));
            $this->store->finding('person_gone', 'folk', (string) $folkId);
        }

        return $this->folk[$folkId];
    }
}
