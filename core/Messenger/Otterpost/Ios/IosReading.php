<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\PropertyList;
use Geschenk\Core\Messenger\Since2001;
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
 * One pass over one generation 3 database: rooms in their order, the slips of each. Plain slips are moved by SQL; the
 * others are made objects, whose own types look at the values: a row that breaks its table's promise costs that row
 * alone.
 */
final class IosReading
{
    /** Columns that hold a slip in its place and say nothing of it. */
    private const STRUCTURE = ['Z_PK', 'Z_ENT', 'Z_OPT', 'ZROOM', 'ZPLACE'];
    /** Bytes; a preview or a picture that is larger is none. */
    private const PREVIEW_LIMIT = 16_000_000;
    /** What an unknown word in a slip's property list is listed as, by the beginning of its subject. */
    private const FINDINGS = [
        'notice.sort' => 'unknown_notice', 'ring.outcome' => 'unknown_state', 'mention' => 'mention_misplaced',
        'extras' => 'unknown_detail',
    ];

    /** @var array<int, string> person key by ZFOLK.Z_PK */
    private array $folk = [];
    /** @var array<string, true> keys of people */
    private array $people = [];
    /** @var array<int, string> label by ZLABEL.Z_PK */
    private array $labels = [];
    private readonly Database $database;
    private BulkFill $fill;
    /**
     * @var array{
     *     string, array{string|null, string|null}|null,
     * } the property list that was read last: several columns come from one
     */
    private array $lastExtras = ['', null];
    /** @var array{string, array{wireId: string|null, quote: Quote|null, unreadable: array<string, string>}|null} */
    private array $lastAnswer = ['', null];

    public function __construct(
        private readonly FormatDatabase $pouch,
        private readonly AttachmentFiles $files,
        private readonly StoreWriter $store,
        private readonly Progress $progress,
        private readonly bool $inBulk = true,
    ) {
        $this->database = $pouch->database;
    }

    public function all(): void
    {
        $this->progress->phase('reading', $this->database->one('SELECT COUNT(*) AS n FROM ZSLIP')?->int('n') ?? 0);
        $this->source();
        $this->pouch->listUnknownColumns('ZCANNED', 'ZFOLK', 'ZHOLT', 'ZLABEL', 'ZROOMLABEL');
        $this->people();
        $this->business();
        $this->fill = new BulkFill(
            $this->store, $this->pouch->path(), 'SELECT Z_PK FROM source.ZSLIP ORDER BY ZROOM, ZPLACE, Z_PK',
            'SELECT ZROOM, COUNT(*) FROM source.ZSLIP GROUP BY ZROOM ORDER BY ZROOM', $this->inBulk,
        );
        $this->prepare($this->fill->database);
        $rooms = [];
        foreach ($this->fill->rooms() as $range) {
            $rooms[serialize($range['room'])] = $range;
        }
        foreach ($this->database->rows($this->pouch->select('ZROOM', 'ORDER BY Z_PK')) as $row) {
            $room = $row->int('Z_PK');
            $range = $rooms[serialize($room)] ?? ['first' => 1, 'messages' => 0];
            unset($rooms[serialize($room)]);
            $people = [];
            $conversation = $this->pouch->attempt('ZROOM', function () use ($room, $row, &$people): Conversation {
                $tolerant = $this->pouch->tolerant('ZROOM', $row);
                $opaque = $this->pouch->withUnknownColumns(
                    'ZROOM', array_values($row->values), $this->foreign($tolerant, 'ZROOM'),
                );
                ['members' => $members, 'keys' => $people] = $this->peopleOf($room, $opaque);

                return $this->conversation($tolerant, $members, $opaque);
            });
            $this->room($room, $conversation ?? self::roomOfItsOwn((string) $room), $people, $range);
        }
        // Slips of rooms that no row tells of get a conversation of their own rather than being dropped.
        foreach ($rooms as $range) {
            $name = is_scalar($range['room']) ? (string) $range['room'] : 'unknown';
            $this->store->finding('room_gone', 'ZSLIP.ZROOM', $name);
            $this->room($range['room'], self::roomOfItsOwn($name), [], $range);
        }
        $this->fill->finish();
    }

    private function source(): void
    {
        $row = $this->database->one($this->pouch->select('ZHOLT', 'LIMIT 1')) ?? new Row([]);
        $isBusiness = null !== $this->database->one(
            'SELECT 1 AS here FROM ZLABEL UNION ALL SELECT 1 FROM ZCANNED LIMIT 1',
        );
        $this->store->source(
            new Source(
                Otterpost::NAME,
                Otterpost::edition(
                    $row->nullableText('ZEDITION'), $isBusiness ? Otterpost::COUNTER : Otterpost::ORDINARY,
                    'ZHOLT.ZEDITION', $this->store,
                ),
                Platform::Ios, IosSchema::GENERATION,
                Handle::toKey($row->nullableText('ZOWNHANDLE') ?? '', Handle::IOS_SUFFIX),
                $row->nullableText('ZOWNNAME'),
            ),
        );
    }

    private function people(): void
    {
        foreach ($this->database->rows($this->pouch->select('ZFOLK', 'ORDER BY Z_PK')) as $row) {
            $this->pouch->attempt('ZFOLK', fn () => $this->person($this->pouch->tolerant('ZFOLK', $row)));
        }
    }

    private function person(TolerantRow $row): void
    {
        $id = $row->int('Z_PK');
        $key = Handle::toKey($row->text('ZHANDLE', 'person-'.$id), Handle::IOS_SUFFIX);
        if (isset($this->people[$key])) {
            $this->store->finding('person_twice', 'ZFOLK', $key);
        }
        $this->people[$key] = true;
        $list = $row->nullableText('ZNUMBERS');
        $numbers = null === $list
            ? []
            : $row->attempt('ZNUMBERS', static fn (): array => PropertyList::read($list)) ?? [];
        if ($numbers !== array_filter($numbers, is_string(...))) {
            $this->store->finding('value_unreadable', 'ZFOLK.ZNUMBERS');
        }
        $former = $row->nullableText('ZFORMERHANDLE');
        $this->store->person(new Person(
            $key, Handle::number($key), $row->nullableText('ZBOOKNAME'), $row->nullableText('ZOWNNAME'),
            $row->bool('ZBARRED'),
            array_values(array_filter($numbers, is_string(...))), null === $former
                ? null
                : Handle::toKey($former, Handle::IOS_SUFFIX),
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
        foreach ($this->database->rows($this->pouch->select('ZLABEL', 'ORDER BY Z_PK')) as $row) {
            $row = $this->pouch->tolerant('ZLABEL', $row);
            $name = $row->text('ZNAME');
            $this->labels[$row->int('Z_PK')] = $name;
            $this->store->label(new Label($name, $row->nullableInt('ZTINT') ?? 0));
        }
        foreach ($this->database->rows($this->pouch->select('ZCANNED', 'ORDER BY Z_PK')) as $row) {
            $row = $this->pouch->tolerant('ZCANNED', $row);
            $this->store->cannedAnswer(new CannedAnswer($row->text('ZSHORTCUT'), $row->text('ZBODY')));
        }
    }

    /**
     * @param array<string, scalar|null> $opaque
     *
     * @return array{
     *     members: list<Member>, keys: array<int, string>,
     * } keys by ZROOMFOLK.Z_PK, also of people who are no members
     */
    private function peopleOf(int $room, array &$opaque): array
    {
        $members = [];
        $keys = [];
        foreach ($this->database->few(
            $this->pouch->select('ZROOMFOLK', 'WHERE ZROOM = ? ORDER BY Z_PK'), [$room],
        ) as $found) {
            $row = $this->pouch->tolerant('ZROOMFOLK', $found);
            $key = $this->folk[$row->nullableInt('ZFOLK') ?? 0] ?? null;
            if (null === $key) {
                $key = 'person-'.($row->nullableInt('ZFOLK') ?? 0);
                $this->store->person(new Person($key, null, null, null));
                $this->store->finding('person_gone', 'ZROOMFOLK.ZFOLK', $key);
            }
            $keys[$row->int('Z_PK')] = $key;
            $opaque = $this->pouch->withUnknownColumns(
                'ZROOMFOLK', array_values($found->values), $opaque, 'ZROOMFOLK.'.$key,
            );
            $member = $this->pouch->attempt('ZROOMFOLK', function () use ($row, $key, &$opaque): ?Member {
                return $row->bool('ZTRACE') ? null : $this->member($row, $key, $opaque);
            });
            if (null !== $member) {
                $members[] = $member;
            }
        }

        return ['members' => $members, 'keys' => $keys];
    }

    /** @param array<string, scalar|null> $opaque of the room */
    private function member(TolerantRow $row, string $key, array &$opaque): Member
    {
        $rank = $row->nullableInt('ZRANK') ?? 1;
        if (!isset(Codes::RANKS[$rank])) {
            $this->pouch->keepUnknown('unknown_rank', 'ZROOMFOLK.ZRANK '.$key, $rank, $opaque);
        }

        return new Member(
            $key, Codes::RANKS[$rank] ?? MemberRole::Member, self::time($row, 'ZSINCE'), self::time($row, 'ZUNTIL'),
        );
    }

    /**
     * @param list<Member>               $members
     * @param array<string, scalar|null> $opaque
     */
    private function conversation(TolerantRow $row, array $members, array $opaque): Conversation
    {
        $room = $row->int('Z_PK');
        $code = $row->nullableInt('ZSORT');
        $kind = Codes::ROOM_SORTS[$code ?? Codes::FOREIGN] ?? ConversationKind::Unknown;
        if (null !== $code && ConversationKind::Unknown === $kind && Codes::FOREIGN !== $code) {
            $this->pouch->keepUnknown('unknown_conversation_kind', 'ZROOM.ZSORT', $code, $opaque);
        }
        $hush = $row->nullableFloat('ZHUSHUNTIL');
        $labels = [];
        foreach ($this->database->few(
            $this->pouch->select('ZROOMLABEL', 'WHERE ZROOM = ? ORDER BY ZPLACE, Z_PK'), [$room],
        ) as $label) {
            $name = $this->labels[$this->pouch->tolerant('ZROOMLABEL', $label)->nullableInt('ZLABEL') ?? 0] ?? null;
            if (null === $name) {
                $this->store->finding('label_gone', 'ZROOMLABEL.ZLABEL');
            } else {
                $labels[] = $name;
            }
        }

        return new Conversation(
            Handle::toKey(
                $row->text('ZHANDLE', 'conversation-'.$room), Handle::IOS_SUFFIX,
            ), $kind, $row->nullableText('ZTITLE'), $row->nullableText('ZABOUT'), self::time($row, 'ZFOUNDED'),
            $row->bool('ZSHELVED'), $row->nullableInt('ZPINPLACE'), -1.0 === $hush
                ? Conversation::MUTED_FOR_GOOD
                : self::time($row, 'ZHUSHUNTIL'), $row->nullableInt('ZUNREAD') ?? 0, null, $members, $opaque,
            $row->nullableInt('ZFADE'), $row->nullableText('ZDRAFT'), $row->bool('ZMARKEDUNREAD'), $this->smallFile(
                $row->nullableText('ZPICTUREPATH'),
            ), $labels,
        );
    }

    /** What the statements that move plain slips call and look up. */
    private function prepare(Database $bulk): void
    {
        $bulk->execute(
            'CREATE TEMP TABLE sender (room_folk INTEGER PRIMARY KEY, key TEXT NOT NULL); '
                .'CREATE TEMP TABLE odd (slip INTEGER PRIMARY KEY)',
        );
        $bulk->define(
            'extras_are_plain', fn (mixed $xml): int => is_string($xml) && null !== $this->extras($xml) ? 1 : 0, 1,
        );
        $bulk->define('nods', fn (string $xml): ?string => $this->extras($xml)[0] ?? null, 1);
        $bulk->define('marks', fn (string $xml): ?string => $this->extras($xml)[1] ?? null, 1);
        $bulk->define(
            'answer_is_plain',
            fn (mixed $xml): int => is_string($xml) && null !== ($this->answer($xml)['wireId'] ?? null) ? 1 : 0, 1,
        );
        $bulk->define('answered', fn (string $xml): ?string => $this->answer($xml)['wireId'] ?? null, 1);
        $bulk->define(
            'quoted',
            fn (string $xml): ?string => null === ($quote = $this->answer($xml)['quote'] ?? null)
                ? null
                : SafeJson::encode(['quote' => $quote->canonical()]),
            1,
        );
        $text = static fn (string $column): string => "typeof(c.$column) IN ('text', 'null')";
        $number = static fn (string $column): string => "typeof(c.$column) IN ('integer', 'null')";
        $bulk->execute('INSERT OR IGNORE INTO temp.odd SELECT c.ZSLIP FROM source.ZPARCEL c '
            .'WHERE c.ZSLIP IS NOT NULL AND NOT ('
            .implode(
                ' AND ',
                [
                    ...array_map($text, ['ZPATH', 'ZPEEKPATH', 'ZSHOWNNAME', 'ZMEDIATYPE']),
                    ...array_map($number, ['ZPAIRED', 'ZOCTETS', 'ZWIDTH', 'ZHEIGHT']),
                ],
            )
            ." AND (c.ZSPAN IS NULL OR (typeof(c.ZSPAN) = 'real' AND abs(c.ZSPAN) < 9e11)) "
            ."AND typeof(c.ZMEDIATYPE) = 'text'".$this->pouch->holdsNothingUnknown('ZPARCEL', 'c').')');
    }

    /**
     * @param array<int, string>                            $people
     * @param array{room?: mixed, first: int, messages: int} $range
     */
    private function room(mixed $room, Conversation $conversation, array $people, array $range): void
    {
        $id = $this->store->conversationAt($conversation, $range['first'], $range['messages']);
        $this->fill->database->execute('DELETE FROM temp.sender');
        foreach ($people as $roomFolk => $key) {
            $this->fill->database->run('INSERT INTO temp.sender VALUES (?, ?)', [$roomFolk, $key]);
        }
        $from = 'FROM temp.unusual o CROSS JOIN source.ZSLIP s ON s.Z_PK = o.source_id';
        $this->fill->fill(
            new RoomRange($id, $range['first'], $range['messages']), $this->plain(),
            new UnusualRows(
                $this->pouch->columns('ZSLIP', 's').' '.$from,
                fn (array $values): Message => $this->message($values, $people),
                function (array $values, \Throwable $error): void { $this->pouch->rowUnreadable('ZSLIP', $error); },
            ),
            new AttachedRows(
                $this->pouch->columns('ZPARCEL', 'c')
                    .' FROM temp.ordering o CROSS JOIN source.ZPARCEL c ON c.ZSLIP = o.source_id '
                    .'WHERE NOT EXISTS (SELECT 1 FROM temp.odd WHERE odd.slip = o.source_id)',
                fn (array $values): Attachment => $this->attachment(array_slice($values, 1)),
            ),
            $this->progress,
        );
        $this->fill->partsLost(
            $conversation->title ?? $conversation->key, $range['first'], $range['messages'],
            $this->pouch->damage()?->parts(['ZPARCEL_SLIP']) ?? [],
        );
        $lost = is_int($room) ? $this->pouch->damage()?->lostBy('ZSLIP_ROOM', $room) ?? 0 : 0;
        if ($lost > 0) {
            $this->store->lost($id, $lost);
        }
    }

    /** Columns of a plain slip as a chat store wants them, and the condition for being one. */
    private function plain(): PlainRows
    {
        $kinds = array_filter(Codes::SLIP_SORTS, static fn (Kind $kind): bool => Kind::Notice !== $kind);
        $marks = sprintf(
            '((s.ZFLAGS & %d) <> 0) * %d | ((s.ZFLAGS & %d) <> 0) * %d', IosSchema::FLAG_STARRED,
            StoreSchema::MARK_STARRED, IosSchema::FLAG_FORWARDED, StoreSchema::MARK_FORWARDED,
        );
        $horizon = Since2001::toSeconds($this->store->horizon);

        $columns = 's.ZWIREID, s.ZWIREID, f.key, s.ZMINE <> 0, '.CodeMap::toValue('s.ZSORT', $kinds).', s.ZBODY, '
            .Since2001::sqlToMilliseconds('s.ZSENT').', '.Since2001::sqlToMilliseconds('s.ZLANDED').', '
            .CodeMap::toValue(
                's.ZSTAGE', Codes::STAGES,
            ).", $marks, "
            .'CASE WHEN s.ZANSWER IS NULL THEN NULL ELSE answered(s.ZANSWER) END, '
            .'CASE WHEN s.ZEXTRAS IS NULL THEN NULL ELSE nods(s.ZEXTRAS) END, '
            .'CASE WHEN s.ZEXTRAS IS NULL THEN NULL ELSE marks(s.ZEXTRAS) END, '
            .'CASE WHEN s.ZANSWER IS NULL THEN NULL ELSE quoted(s.ZANSWER) END';
        $joins = 'CROSS JOIN source.ZSLIP s ON s.Z_PK = o.source_id LEFT '
            .'JOIN temp.sender f ON f.room_folk = s.ZROOMFOLK';
        $where = CodeMap::isIn('s.ZSORT', $kinds).' AND '.CodeMap::isIn(
            's.ZSTAGE', Codes::STAGES,
        )." AND typeof(s.ZWIREID) = 'text' AND s.ZWIREID <> '' AND typeof(s.ZBODY) IN ('text', 'null')"
            // Times from 1970 to tomorrow; what lies outside is listed.
            .sprintf(
                " AND typeof(s.ZSENT) = 'real' AND s.ZSENT > %d AND s.ZSENT <= %.3F AND (s.ZLANDED IS NULL "
                    ."OR (typeof(s.ZLANDED) = 'real' AND abs(s.ZLANDED) < 9e11))",
                -978_307_199, $horizon,
            )
            .sprintf(
                " AND typeof(s.ZMINE) = 'integer' AND typeof(s.ZFLAGS) = 'integer' AND (s.ZFLAGS & ~%d) = 0",
                IosSchema::KNOWN_FLAGS,
            )
            .' AND (s.ZROOMFOLK IS NULL OR f.key IS NOT NULL) AND (s.ZONCE IS NULL OR s.ZONCE = 0)'
            .' AND NOT EXISTS (SELECT 1 FROM temp.odd WHERE odd.slip = s.Z_PK)'
            .' AND (s.ZANSWER IS NULL OR answer_is_plain(s.ZANSWER)) AND (s.ZEXTRAS IS NULL '
            .'OR extras_are_plain(s.ZEXTRAS))';
        $rest = $this->pouch->holdsNothingElse('ZSLIP', 's', $columns.$joins.$where, self::STRUCTURE);

        return new PlainRows($columns, $joins, $where.$rest);
    }

    /** @return array{string|null, string|null}|null reactions and receipts; null when there is more to it */
    private function extras(string $xml): ?array
    {
        if ($xml !== $this->lastExtras[0]) {
            try {
                $this->lastExtras = [$xml, Extras::plainJson($xml)];
            } catch (\UnexpectedValueException) {
                $this->lastExtras = [$xml, null];
            }
        }

        return $this->lastExtras[1];
    }

    /**
     * @return array{
     *     wireId: string|null, quote: Quote|null, unreadable: array<string, string>,
     * }|null null when there is more to it
     */
    private function answer(string $xml): ?array
    {
        if ($xml !== $this->lastAnswer[0]) {
            try {
                $answer = Extras::answer($xml);
                $this->lastAnswer = [$xml, [] === $answer['unreadable'] ? $answer : null];
            } catch (\TypeError|\ValueError|\UnexpectedValueException) {
                $this->lastAnswer = [$xml, null];
            }
        }

        return $this->lastAnswer[1];
    }

    /**
     * @param list<mixed>        $values
     * @param array<int, string> $people
     */
    private function message(array $values, array $people): Message
    {
        $row = $this->pouch->row('ZSLIP', $values);
        $body = $row->nullableText('ZBODY');
        $opaque = $this->pouch->withUnknownColumns('ZSLIP', $values, $this->foreign($row, 'ZSLIP'));
        $sort = $row->nullableInt('ZSORT') ?? 0;
        $kind = Codes::SLIP_SORTS[$sort] ?? Kind::Unknown;
        if (Kind::Unknown === $kind && Codes::FOREIGN !== $sort) {
            $this->pouch->keepUnknown('unknown_kind', 'ZSLIP.ZSORT', $sort, $opaque);
        }
        $stage = $row->nullableInt('ZSTAGE') ?? 0;
        $state = Codes::STAGES[$stage] ?? DeliveryState::Unknown;
        if (DeliveryState::Unknown === $state && Codes::FOREIGN !== $stage) {
            $this->pouch->keepUnknown('unknown_state', 'ZSLIP.ZSTAGE', $stage, $opaque);
        }
        $flags = $row->nullableInt('ZFLAGS') ?? 0;
        if (0 !== ($flags & ~IosSchema::KNOWN_FLAGS)) {
            $this->pouch->keepUnknown('unknown_flag', 'ZSLIP.ZFLAGS', $flags & ~IosSchema::KNOWN_FLAGS, $opaque);
        }
        $once = $row->nullableInt('ZONCE');
        $viewOnce = null;
        if (null !== $once && 0 !== $once) {
            $viewOnce = Codes::ONCE[$once] ?? null;
            if (null === $viewOnce) {
                $this->pouch->keepUnknown('unknown_flag', 'ZSLIP.ZONCE', $once, $opaque);
            }
        }
        // A list that can't be read costs what stood in it, not the text; so does a part of it.
        $xml = $row->nullableText('ZEXTRAS');
        $extras = $row->attempt(
            'ZEXTRAS', static fn (): Extras => Extras::read($xml, $body),
        ) ?? Extras::read(null, null);
        foreach ($extras->unknown as $subject => $word) {
            $this->pouch->keepUnknown(
                self::FINDINGS[$subject] ?? self::FINDINGS[explode('.', $subject)[0]] ?? 'unknown_detail', $subject,
                $word, $opaque,
            );
        }
        foreach ($extras->unreadable as $subject => $value) {
            $this->store->finding('value_unreadable', 'ZSLIP.ZEXTRAS.'.$subject, $value);
        }
        $answer = $row->nullableText('ZANSWER');
        $answered = $row->attempt('ZANSWER', static fn (): array => Extras::answer($answer)) ?? Extras::answer(null);
        foreach ($answered['unreadable'] as $subject => $value) {
            $this->store->finding('value_unreadable', 'ZSLIP.ZANSWER.'.$subject, $value);
        }
        $roomFolk = $row->nullableInt('ZROOMFOLK');
        $sent = self::time($row, 'ZSENT');
        if (null === $sent && null === $row->nullableText('ZSENT')) {
            $this->store->finding('value_absent', 'ZSLIP.ZSENT');
        }

        return new Message(
            $row->nullableText('ZWIREID'), null === $roomFolk
                ? null
                : ($people[$roomFolk] ?? $this->gone($roomFolk)), $row->bool('ZMINE'), $kind, $body,
            $sent
                ?? 0, self::time($row, 'ZLANDED'), $state, 0 !== ($flags & IosSchema::FLAG_STARRED),
            0 !== ($flags & IosSchema::FLAG_FORWARDED), $answered['wireId'],
            $extras->notice, $this->attachments($opaque), $extras->reactions, $extras->receipts, $opaque,
            $extras->content, self::time($row, 'ZEDITED'), self::time($row, 'ZFADES'),
            $viewOnce, $answered['quote'], $extras->mentions, $row->nullableText('ZEFFECT'),
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
        $columns = $this->pouch->columns('ZPARCEL', 'c');
        foreach ($this->fill->beside($columns, 'ZPARCEL', 'ZSLIP', 'c.Z_PK') as $place => $values) {
            $attachment = $this->pouch->attempt('ZPARCEL', fn (): Attachment => $this->attachment($values));
            if (null !== $attachment) {
                $list[] = $attachment;
            }
            $opaque = $this->pouch->withUnknownColumns('ZPARCEL', $values, $opaque, 'ZPARCEL.'.$place);
        }

        return $list;
    }

    /** @param list<mixed> $values */
    private function attachment(array $values): Attachment
    {
        $row = $this->pouch->row('ZPARCEL', $values);
        $path = $row->nullableText('ZPATH') ?? '';
        $type = $row->text('ZMEDIATYPE', 'application/octet-stream');
        $found = '' === $path
            ? ['presence' => Presence::Missing, 'bytes' => 0, 'sha256' => null]
            : $this->files->look($path, $type);
        if (Presence::Refused === $found['presence']) {
            $this->store->finding('attachment_outside', 'ZPARCEL.ZPATH', $path);
        }

        return new Attachment(
            $path, $row->nullableText('ZSHOWNNAME'), $type, $found['presence']->hasBytes()
                ? $found['bytes']
                : $row->nullableInt('ZOCTETS') ?? 0, $found['sha256'], $found['presence'],
            $row->attempt(
                'ZSPAN', static fn (): ?int => Since2001::lengthOf($row->nullableFloat('ZSPAN')),
            ), $row->nullableInt('ZWIDTH'), $row->nullableInt('ZHEIGHT'),
            $this->smallFile($row->nullableText('ZPEEKPATH')), null !== $row->nullableInt('ZPAIRED'),
        );
    }

    /** A sender whose row in the room is gone. */
    private function gone(int $roomFolk): string
    {
        $key = 'person-'.$roomFolk;
        $this->store->person(new Person($key, null, null, null));
        $this->store->finding('person_gone', 'ZSLIP.ZROOMFOLK', $key);

        return $key;
    }

    /** A preview or a picture. */
    private function smallFile(?string $path): ?string
    {
        $stream = null === $path ? null : $this->files->open($path);
        if (null === $stream) {
            return null;
        }
        $bytes = stream_get_contents($stream, self::PREVIEW_LIMIT + 1);
        fclose($stream);
        if (false === $bytes || strlen($bytes) > self::PREVIEW_LIMIT) {
            $this->store->finding('preview_unreadable', (string) $path);

            return null;
        }

        return $this->store->preview($bytes, (string) $path);
    }

    private static function time(TolerantRow $row, string $column): ?int
    {
        return $row->attempt($column, static fn (): ?int => Since2001::toMilliseconds($row->nullableFloat($column)));
    }

    /** @return array<string, scalar> what an earlier move put into ZFOREIGN */
    private function foreign(TolerantRow $row, string $table): array
    {
        $list = $row->nullableText('ZFOREIGN');
        $details = [];
        foreach (null === $list ? [] : $row->attempt(
            'ZFOREIGN', static fn (): array => PropertyList::read($list),
        ) ?? [] as $key => $value) {
            if (is_scalar($value)) {
                $details[(string) $key] = $value;
            } else {
                $this->store->finding('value_unreadable', $table.'.ZFOREIGN.'.$key);
            }
        }

        return $details;
    }
}
