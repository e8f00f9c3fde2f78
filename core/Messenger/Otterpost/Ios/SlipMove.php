<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Messenger\Since2001;
use Geschenk\Core\Sqlite\CodeMap;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreSchema;

/**
 * Moves the messages of a chat store into ZSLIP by SQL, many thousands in a statement. What SQL can't make, the
 * property lists, it asks of the functions here, for the messages that have one.
 */
final class SlipMove
{
    /** Details that have a column or a place in the property list of their own. */
    private const PLACED = [
        'ZSLIP.ZSORT', 'ZSLIP.ZSTAGE', 'ZSLIP.ZFLAGS', 'ZSLIP.ZONCE', 'notice.sort', 'ring.outcome',
    ];
    private const WRITTEN = "m.fate NOT IN ('left_out', 'spread')";

    /** Finds the attachments of the messages that were moved last. */
    private string $withAttachments = 'SELECT 0 WHERE 0';

    /** @param callable(string): int $trace gives the number of the room's row for a sender who is no member */
    public function __construct(private readonly Database $database, private readonly ChatStore $chats, callable $trace)
    {
        $database->define('trace', $trace, 1);
        $database->define(
            'own_code', static fn (string $opaque, string $subject): ?int => self::code($opaque, $subject), 2,
        );
        $database->define(
            'extras',
            self::extras(...),
            6,
        );
        $database->define(
            'answer',
            // Behind the details: sender, whether it is the owner's, kind, body, when it was sent, fate.
            fn (int $conversation, string $wireId, ?string $details, string|int|null ...$q): string => $this->answer(
                $conversation, $wireId, $details,
                null === $q[5] ? null : ChatStore::quote([
                    self::text($q[0]), (int) $q[1], (string) $q[2], self::text($q[3]), (int) $q[4], (string) $q[5],
                ]),
            ),
            9,
        );
        $database->define(
            'foreign_details',
            static fn (string $opaque): ?string => IosWriter::foreign(SafeJson::map($opaque), self::PLACED)?->bytes, 1,
        );
        $database->define(
            'effect',
            static fn (string $details): ?string => is_string($effect = SafeJson::decode($details)['effect'] ?? null)
                ? $effect
                : null,
            1,
        );
        $database->execute('CREATE TEMP TABLE place_of (n INTEGER PRIMARY KEY, message_id INTEGER NOT NULL)');
    }

    /**
     * @return int how many were written
     */
    public function move(SlipRange $range): int
    {
        [$conversation, $from, $to, $slip] = [$range->conversation, $range->from, $range->to, $range->slip];
        $known = CodeMap::toCode('m.kind', Codes::SLIP_SORTS, Codes::FOREIGN);
        $state = CodeMap::toCode('m.state', Codes::STAGES, Codes::FOREIGN);
        $own = static fn (string $subject, string $else): string => 'CASE WHEN m.opaque IS '
            ."NULL THEN $else ELSE ifnull(own_code(m.opaque, '$subject'), $else) END";
        $detail = static fn (string $name): string => 'CASE WHEN m.details IS NULL THEN NULL ELSE '
            .Since2001::sqlToSeconds(
                "json_extract(m.details, '$.$name')",
            ).' END';
        $once = CodeMap::toCode("json_extract(m.details, '$.view_once')", Codes::ONCE, 0);
        $flags = sprintf(
            '((m.marks & %d) <> 0) * %d | ((m.marks & %d) <> 0) * %d', StoreSchema::MARK_STARRED,
            IosSchema::FLAG_STARRED,
            StoreSchema::MARK_FORWARDED, IosSchema::FLAG_FORWARDED,
        );
        // What an answer is to, looked for in its own conversation; what is not there is looked for one by one.
        $answered = 'LEFT JOIN chats.message a ON a.message_id = (SELECT q.message_id FROM chats.message q '
            ."WHERE q.identity = m.reply_to AND q.conversation_id = $conversation AND q.wire_id IS NOT NULL ORDER BY "
            .'q.occurrence LIMIT 1)';
        $these = sprintf('m.message_id >= %d AND m.message_id < %d', $from, $to);
        $columns = implode(', ', [
            "$slip + NUMBER", (string) IosSchema::ENTITIES['Slip'], '1', (string) $range->room,
            'CASE WHEN m.sender_key IS NULL THEN NULL ELSE ifnull(f.room_folk, trace(m.sender_key)) END',
            "{$range->place} + NUMBER", 'm.from_owner', $own('ZSLIP.ZSORT', $known), $own('ZSLIP.ZSTAGE', $state),
            "($flags) | ".$own(
                'ZSLIP.ZFLAGS', '0',
            ), "ifnull(CASE WHEN m.details IS NULL THEN NULL ELSE NULLIF($once, 0) END, ".$own(
                'ZSLIP.ZONCE', 'NULL',
            ).')', Since2001::sqlToSeconds('m.sent_at'), Since2001::sqlToSeconds('m.received_at'),
            $detail('edited_at'), $detail('expires_at'), 'm.wire_id', 'm.body',
            'CASE WHEN m.details IS NULL THEN NULL ELSE effect(m.details) END',
            "CASE WHEN m.reply_to IS NULL THEN NULL ELSE CAST(answer($conversation, m.reply_to, m.details, "
                .'a.sender_key, a.from_owner, a.kind, substr(CAST(a.body AS BLOB), 1, '.ChatStore::QUOTED
                    .'), a.sent_at, a.fate) AS BLOB) END',
            'CASE WHEN m.reactions IS NULL AND m.receipts IS NULL '
                .'AND m.details IS NULL THEN NULL ELSE CAST(extras(m.kind, m.body, m.reactions, m.receipts, '
                .'m.details, m.opaque) AS BLOB) END',
            'CASE WHEN m.opaque IS NULL THEN NULL ELSE CAST(foreign_details(m.opaque) AS BLOB) END',
        ]);
        $move = fn (string $n, string $source, string $order): int => $this->moved(
            'INSERT INTO ZSLIP SELECT '.str_replace(
                'NUMBER', $n, $columns,
            )." FROM $source LEFT JOIN temp.sender f ON f.key = m.sender_key $answered WHERE $these AND ".self::WRITTEN
                ." ORDER BY $order",
        );
        [$n, $source] = [sprintf('(m.message_id - %d)', $from - 1), 'chats.message m'];
        $written = $move($n, $source, 'm.message_id');
        if ($written !== $to - $from) {
            // Left-out messages have no place: where there are some, the others are counted.
            $this->database->run('DELETE FROM ZSLIP WHERE Z_PK > ?', [$slip]);
            $this->database->execute('DELETE FROM temp.place_of');
            $this->database->run(
                'INSERT INTO temp.place_of (message_id) SELECT message_id FROM chats.message m '
                    .'WHERE message_id >= ? AND message_id < ? AND '.self::WRITTEN.' ORDER BY message_id',
                [$from, $to],
            );
            [$n, $source] = ['p.n', 'temp.place_of p CROSS JOIN chats.message m ON m.message_id = p.message_id'];
            $move($n, $source, 'p.n');
        }
        $this->withAttachments = "SELECT $slip + $n AS slip, m.kind, ".ChatStore::attachmentColumns('a.')
            ." FROM $source CROSS JOIN chats.attachment a ON a.message_id = "
            ."m.message_id WHERE $these AND m.attachments IS NOT NULL ORDER BY m.message_id, a.attachment_id";

        return $written;
    }

    /**
     * Attachments of the messages that were moved last.
     *
     * @return \Generator<int, array{slip: int, kind: string, attachment: Attachment}>
     */
    public function attachments(): \Generator
    {
        foreach ($this->database->lists($this->withAttachments) as $values) {
            /** @var array{int, string} $values */
            yield [
                'slip' => $values[0], 'kind' => $values[1],
                'attachment' => ChatStore::attachmentOf(array_slice($values, 2)),
            ];
        }
    }

    private function moved(string $insert): int
    {
        $this->database->execute($insert);

        return $this->database->changes();
    }

    private static function code(string $opaque, string $subject): ?int
    {
        $code = SafeJson::map($opaque)[IosFormat::DETAIL_PREFIX.$subject] ?? null;

        return is_int($code) ? $code : null;
    }

    private static function text(string|int|null $value): ?string
    {
        return null === $value ? null : (string) $value;
    }

    /** @param string|null ...$values kind, body, reactions, receipts, details, opaque */
    private static function extras(?string ...$values): ?string
    {
        [$kind, $body, $reactions, $receipts, $details, $opaque] = $values;
        if (null === $details && null === $opaque) {
            return Extras::writePlain($reactions, $receipts);
        }

        return Extras::write(
            MessageRow::message(
                [null, null, 0, $kind, $body, 0, null, 'sent', 0, null, $reactions, $receipts, $details, null], [],
            ),
            null === $opaque ? [] : SafeJson::map($opaque),
        );
    }

    /**
     * A copy of the answered slip, or, where that is gone or stays behind, what is still known of it.
     *
     * @param Quote|false|null $answered null where it is not in the conversation itself, false where it stays behind
     */
    private function answer(int $conversation, string $wireId, ?string $details, Quote|false|null $answered): string
    {
        $answered ??= $this->chats->quoteOf($conversation, $wireId) ?? false;
        if (false === $answered) {
            $answered = null === $details
                ? null
                : MessageRow::message(
                    [null, null, 0, 'text', null, 0, null, 'sent', 0, null, null, null, $details, null], [],
                )->quote;
        }

        return Extras::writeAnswer($wireId, $answered);
    }
}
