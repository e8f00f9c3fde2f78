<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\LongestOrder;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoredConversation;

/**
 * Holds what was expected against what was read back, conversation by conversation, down to the message, and puts
 * each message into one of four accounts. Two stores are joined by SQLite, column against column, so memory does not
 * grow with their size.
 */
final class Comparison
{
    /** Messages are counted by day, which is quick, and the days added up to months. */
    private const DAY_MS = 86_400_000;
    private const FAR_OFF_DAY = 47_482;
    /** From here on, the year 2100, all share one month. */
    public const FAR_OFF_MS = self::FAR_OFF_DAY * self::DAY_MS;
    private const SAME_IDENTITY = 'f.identity = e.identity';
    private const WRITTEN = "e.fate NOT IN ('left_out', 'spread')";
    /** What a column that differs is called. */
    private const ASPECTS = [
        'sender_key' => 'sender', 'from_owner' => 'sender', 'kind' => 'kind', 'body' => 'text', 'sent_at' => 'sent_at',
        'received_at' => 'received_at', 'state' => 'state', 'marks' => 'flags', 'reply_to' => 'reply',
        'reactions' => 'reactions', 'receipts' => 'receipts', 'opaque' => 'opaque', 'attachments' => 'attachments',
        'wire_id' => 'wire_id',
    ];
    /** What a message is called that is there and stands elsewhere in its conversation. */
    private const ORDER = 'order';
    /** What must be the same of an account whichever format holds it. */
    private const ACCOUNT = ['messenger', 'edition', 'account', 'account_name'];

    private Database $database;
    /** @var array<int, true> ids of spread messages of which a copy is missing */
    private array $notSpread = [];

    public function __construct(private readonly ChatStore $expected, private readonly ChatStore $found)
    {
    }

    /** @param string $path where the result goes; appears only when it is complete */
    public function run(string $path, Progress $progress): Result
    {
        @unlink($path.'.part');
        $this->database = Database::create($path.'.part');
        $this->database->execute(ResultSchema::TABLES);
        $this->expected->attachTo($this->database, 'e');
        $this->found->attachTo($this->database, 'f');
        $this->database->execute('BEGIN; CREATE TEMP TABLE moved (message_id INTEGER PRIMARY KEY)');
        $progress->phase('comparing', $this->expected->messageCount());
        $this->account();
        $titles = $this->expected->titles() + $this->found->titles();
        $spread = [];
        foreach ($this->expected->conversations() as $stored) {
            if (Fate::Spread === $stored->fate) {
                $spread[] = $stored;
                continue;
            }
            $this->conversation($stored, $this->found->conversation($stored->conversation->key), $titles, $progress);
        }
        // A list that went out as copies has arrived when they have.
        foreach ($spread as $stored) {
            $this->conversation($stored, $this->found->conversation($stored->conversation->key), $titles, $progress);
        }
        foreach ($this->found->conversations() as $stored) {
            if (null === $this->expected->conversation($stored->conversation->key)) {
                $this->unexpected($stored, $titles);
            }
        }
        $this->database->execute('COMMIT; DETACH e; DETACH f');
        $this->database->close();
        Disk::sync($path.'.part');
        Disk::move($path.'.part', $path);

        return new Result($path);
    }

    /** Whose chats they are, their people, labels and canned answers: all that belongs to no conversation. */
    private function account(): void
    {
        foreach (self::ACCOUNT as $name) {
            $this->database->run(<<<'SQL'
                INSERT INTO account
                SELECT :name, 1, 1, (SELECT value FROM e.about WHERE name = :name) IS NOT (SELECT value FROM f.about
                    WHERE name = :name)
                SQL, ['name' => $name]);
            $this->database->run(<<<'SQL'
                INSERT INTO account_difference (what, called, how)
                SELECT what, (SELECT value FROM e.about WHERE name = :name), 'different' FROM account WHERE what = :name
                    AND differing
                SQL, ['name' => $name]);
        }
        $this->list('person', 'key', 'COALESCE(book_name, own_name, number, key)', [
            'number', 'book_name', 'own_name', 'barred', 'other_numbers', 'former_key',
        ]);
        $this->list('label', 'place', 'name', ['name', 'tint']);
        $this->list('canned_answer', 'place', 'shortcut', ['shortcut', 'body']);
        $this->dropPeopleOfMessages();
        $this->database->execute(
            'UPDATE account SET differing = (SELECT COUNT(*) FROM account_difference d WHERE d.what = account.what)',
        );
    }

    /**
     * @param string       $key     column that names a row
     * @param string       $name    SQL of what people call it
     * @param list<string> $columns what must be the same
     */
    private function list(string $table, string $key, string $name, array $columns): void
    {
        $same = implode(' AND ', array_map(static fn (string $c): string => "x.$c IS y.$c", $columns));
        $this->database->execute(<<<SQL
            INSERT INTO account
                SELECT '$table', (SELECT COUNT(*) FROM e.$table), (SELECT COUNT(*) FROM f.$table), 0;
            INSERT INTO account_difference (what, subject, how)
                SELECT '$table', x.$key, CASE WHEN y.$key IS NULL THEN 'missing' ELSE 'different' END
                FROM e.$table x LEFT JOIN f.$table y ON y.$key = x.$key
                WHERE y.$key IS NULL OR NOT ($same);
            INSERT INTO account_difference (what, subject, how)
                SELECT '$table', y.$key, 'extra' FROM f.$table y WHERE NOT EXISTS (SELECT 1 FROM e.$table x
                    WHERE x.$key = y.$key);
            UPDATE account_difference
                SET called = COALESCE((SELECT $name FROM e.$table WHERE $key = subject), (SELECT $name FROM f.$table
                    WHERE $key = subject))
                WHERE what = '$table';
            SQL);
    }

    /**
     * A receiving format may need a row for everybody whom a message names. Such a row, with nothing in it but the
     * handle, is no person more.
     */
    private function dropPeopleOfMessages(): void
    {
        $bare = <<<'SQL'
            SELECT CAST(d.subject AS BLOB) AS key FROM account_difference d JOIN f.person p ON p.key = d.subject
            WHERE d.what = 'person' AND d.how = 'extra' AND p.book_name IS NULL AND p.own_name IS NULL AND NOT p.barred
                AND p.other_numbers IS NULL AND p.former_key IS NULL
            SQL;
        $named = <<<'SQL'
            SELECT 1 AS here WHERE EXISTS (SELECT 1 FROM e.member WHERE person_key = CAST(:key AS TEXT)) OR EXISTS (
                SELECT 1 FROM e.message m WHERE m.fate NOT IN ('left_out', 'spread')
                    AND (m.sender_key = CAST(:key AS TEXT)
                    OR instr(m.reactions, :json) OR instr(m.receipts, :json) OR instr(m.details, :json)))
            SQL;
        foreach ($this->database->few($bare) as $row) {
            $key = $row->text('key');
            $json = substr(SafeJson::encode([$key]), 1, -1);
            if (null !== $this->database->one($named, ['key' => new Blob($key), 'json' => $json])) {
                $this->database->run(
                    "DELETE FROM account_difference WHERE what = 'person' AND subject = CAST(? AS TEXT)",
                    [new Blob($key)],
                );
            }
        }
    }

    /** @param array<string, string|null> $titles */
    private function conversation(
        StoredConversation $expected,
        ?StoredConversation $found,
        array $titles,
        Progress $progress,
    ): void {
        $key = $expected->conversation->key;
        $id = $this->database->insert(
            'conversation', self::emptyRow($key, $titles[$key] ?? null, $expected->conversation->kind->value),
        );
        [$first, $count] = $this->expected->range($expected->id);
        [$firstFound, $countFound] = null === $found ? [0, 0] : $this->found->range($found->id);
        // Normally all stand in the same order, and then place against place is enough; else each is looked for.
        $byPlace = 'FROM e.message e LEFT JOIN f.message f ON f.message_id = '
            ."e.message_id - $first + $firstFound AND f.message_id < ".($firstFound + $countFound).' AND '
                .self::SAME_IDENTITY.' AND f.occurrence = e.occurrence';
        $byIdentity = sprintf(
            'FROM e.message e LEFT JOIN f.message f ON %s AND f.conversation_id = %d AND f.occurrence = e.occurrence',
            self::SAME_IDENTITY, $found->id ?? -1,
        );
        $range = sprintf('e.message_id >= %d AND e.message_id < %d', $first, $first + $count);
        $tally = $this->tally($id, $byPlace, $range);
        $join = $byPlace;
        $isAlike = $tally['alike'] === $count && $count === $countFound;
        if (!$isAlike) {
            $join = $byIdentity;
            $this->findMoved($join, $range);
            $tally = $this->tally($id, $byIdentity, $range);
        }
        $accounts = array_intersect_key(
            $tally,
            array_flip([
                'arrived', 'changed', 'left_out', 'missing', 'added', 'added_missing', 'kept', 'kept_missing',
            ]),
        );
        $notThere = $tally['missing'] + $tally['added_missing'] + $tally['kept_missing'];
        if ($notThere > 0) {
            $this->differences($id, $join, $range);
        }
        $lost = $this->spread($id, $range);
        $accounts['missing'] += $lost;
        $accounts['changed'] += $tally['spread'] - $lost;
        $extra = 0;
        if ($countFound > $tally['matched']) {
            $extra = $this->extras($id, $expected->id, $found->id ?? -1, $firstFound, $countFound);
        }
        $settings = $expected->fate->isWritten() ? $this->settings($expected, $found) : [];
        $isMeant = $expected->fate->isWritten();
        $verdict = match (true) {
            $accounts['missing'] > 0 || $tally['added_missing'] + $tally['kept_missing'] > 0
                || ($isMeant && (null === $found || [] !== $settings)) => Verdict::Missing,
            $extra > 0 || (!$isMeant && null !== $found) => Verdict::Extra,
            Fate::LeftOut === $expected->fate => Verdict::LeftOut,
            $accounts['changed'] > 0 || $accounts['left_out'] > 0
                || !in_array($expected->fate, [Fate::Whole, Fate::Kept], true) => Verdict::Changed,
            default => Verdict::Arrived,
        };
        $rules = $expected->rules;
        foreach ($tally['arrived'] === $count ? [] : $this->database->rows(
            "SELECT DISTINCT rules FROM e.message e WHERE $range AND rules IS NOT NULL",
        ) as $row) {
            foreach (SafeJson::decode($row->text('rules')) as $rule) {
                $rules[] = is_string($rule) ? $rule : '';
            }
        }
        $this->fill(
            $id, $expected->id, $found?->id, new Tallied(
                $verdict, $accounts, $extra, $isAlike ? [$tally['first'], $tally['last']] : null, $settings,
                array_unique($rules),
            ),
        );
        $progress->advance($count);
    }

    /**
     * Notes the messages that are there and stand in another order than they should: as few as explain it.
     *
     * @param string $join expected messages with the found ones that are the same
     */
    private function findMoved(string $join, string $range): void
    {
        $pairs = "SELECT e.message_id AS id, f.message_id AS place $join WHERE $range AND ".self::WRITTEN
            .' AND f.message_id IS NOT NULL';
        $isMoved = 'SELECT 1 AS here FROM (SELECT place < LAG(place) OVER (ORDER BY id) AS '
            ."is_back FROM ($pairs)) WHERE is_back LIMIT 1";
        if (null === $this->database->one($isMoved)) {
            return;
        }
        $order = new LongestOrder();
        foreach ($this->database->lists("SELECT id, place FROM ($pairs) ORDER BY id") as $pair) {
            /** @var array{int, int} $pair */
            $order->add($pair[0], $pair[1]);
        }
        foreach ($order->outside() as $messageId) {
            $this->database->run('INSERT INTO temp.moved VALUES (?)', [$messageId]);
        }
    }

    /** SQL that is true where the found message is what was expected, and where it was expected. */
    private static function isSame(): string
    {
        return implode(' AND ', array_map(static fn (string $c): string => "f.$c IS e.$c", MessageRow::COLUMNS))
            .' AND NOT EXISTS (SELECT 1 FROM temp.moved WHERE moved.message_id = e.message_id)';
    }

    /**
     * Counts what became of a conversation's messages, and notes it by month.
     *
     * @return array{
     *     arrived: int, changed: int, left_out: int, spread: int, missing: int, added: int, added_missing: int,
     *     kept: int, kept_missing: int, matched: int, alike: int, first: int|null, last: int|null,
     * }
     *               matched: messages on the other side that were meant to be there; alike: those of all that are the
     *               same there; first, last: times of the expected ones
     */
    private function tally(int $id, string $join, string $range): array
    {
        $tally = [
            'arrived' => 0, 'changed' => 0, 'left_out' => 0, 'spread' => 0, 'missing' => 0, 'added' => 0,
            'added_missing' => 0, 'kept' => 0, 'kept_missing' => 0, 'matched' => 0, 'alike' => 0,
            'first' => null, 'last' => null,
        ];
        $months = [];
        $same = self::isSame();
        // One number to group by is much quicker than three columns.
        $fates = Fate::cases();
        $fate = 'CASE e.fate '.implode(
            ' ',
            array_map(static fn (int $n, Fate $f): string => "WHEN '$f->value' THEN $n", array_keys($fates), $fates),
        ).' END';
        // All before 1970 share one month, and so one day.
        $day = sprintf('CASE WHEN e.sent_at < 0 THEN -1 ELSE e.sent_at / %d END', self::DAY_MS);
        // Its LIMIT keeps the inner query apart; else SQLite sorts whole messages to count them.
        $sql = "SELECT account, COUNT(*) AS n, MIN(sent_at) AS first, MAX(sent_at) AS last
            FROM (SELECT ($day) * 32 + $fate * 4 + CASE WHEN f.message_id IS NULL THEN 0 WHEN $same THEN 2 ELSE 1
                END AS account, e.sent_at $join WHERE $range LIMIT -1) GROUP BY account";
        foreach ($this->database->rows($sql) as $row) {
            $n = $row->int('n');
            $tally['first'] = min($tally['first'] ?? \PHP_INT_MAX, $row->int('first'));
            $tally['last'] = max($tally['last'] ?? \PHP_INT_MIN, $row->int('last'));
            $day = (int) floor($row->int('account') / 32);
            $fate = $fates[($row->int('account') - $day * 32) >> 2];
            $there = $row->int('account') & 3;
            $isThere = 2 === $there;
            $tally['alike'] += $isThere ? $n : 0;
            if ($fate->isWritten()) {
                $tally['matched'] += $there > 0 ? $n : 0;
            }
            $account = match ($fate) {
                Fate::Whole => $isThere ? 'arrived' : 'missing',
                Fate::Changed => $isThere ? 'changed' : 'missing',
                Fate::Added => $isThere ? 'added' : 'added_missing',
                Fate::Kept => $isThere ? 'kept' : 'kept_missing',
                Fate::LeftOut => 'left_out',
                Fate::Spread => 'spread',
            };
            $tally[$account] += $n;
            $month = self::month($day);
            $months[$month][0] = ($months[$month][0] ?? 0) + ($fate->isWritten() ? $n : 0);
            $months[$month][1] = ($months[$month][1] ?? 0) + ($fate->isWritten() && $isThere ? $n : 0);
        }
        $this->database->run('DELETE FROM month WHERE conversation_id = ?', [$id]);
        foreach ($months as $month => [$expected, $there]) {
            $this->database->run('INSERT INTO month VALUES (?, ?, ?, ?)', [$id, $month, $expected, $there]);
        }

        return $tally;
    }

    /** Times far off are kept as they are; they share one month at each end so that the picture stays a picture. */
    private static function month(int $day): string
    {
        return match (true) {
            $day < 0 => '0000-00',
            $day >= self::FAR_OFF_DAY => '9999-99',
            default => gmdate('Y-m', $day * 86_400),
        };
    }

    /** Lists each message that was meant to arrive and did not arrive as it was meant to. */
    private function differences(int $id, string $join, string $range): void
    {
        $same = self::isSame();
        $sql = 'SELECT e.message_id AS expected_id, f.message_id AS found_id, e.place, e.kind, e.sent_at, '
            ."e.sender_key, e.from_owner, e.fate, e.origin $join WHERE $range AND ".self::WRITTEN
                ." AND (f.message_id IS NULL OR NOT ($same)) ORDER BY e.message_id";
        foreach ($this->database->rows($sql) as $row) {
            $foundId = $row->nullableInt('found_id');
            $reason = 'not_there';
            $aspects = [];
            if (null !== $foundId) {
                $expected = $this->expected->message($row->int('expected_id'))?->message;
                $found = $this->found->message($foundId)?->message;
                if (null === $expected || null === $found) {
                    throw new \LogicException('A message vanished while it was compared.');
                }
                $aspects = self::differing($expected, $found);
                $isMoved = null !== $this->database->one(
                    'SELECT 1 AS here FROM temp.moved WHERE message_id = ?', [$row->int('expected_id')],
                );
                $reason = [] === $aspects && $isMoved ? 'out_of_order' : self::reason($expected, $found, $aspects);
                $aspects = $isMoved ? [...$aspects, self::ORDER] : $aspects;
            }
            if (null !== $row->nullableInt('origin')) {
                $this->notSpread[$row->int('origin')] = true;
            }
            $this->finding(
                $id,
                in_array($row->text('fate'), [Fate::Added->value, Fate::Kept->value], true)
                    ? $row->text('fate')
                    : 'missing',
                $reason, $row, $aspects,
            );
        }
    }

    /** @return int how many messages of a list that went out as copies are short of one */
    private function spread(int $id, string $range): int
    {
        $lost = 0;
        foreach ([] === $this->notSpread ? [] : $this->database->rows(
            'SELECT message_id AS expected_id, NULL AS found_id, place, kind, sent_at, sender_key, from_owner '
                ."FROM e.message e WHERE $range AND fate = 'spread' ORDER BY message_id",
        ) as $row) {
            if (isset($this->notSpread[$row->int('expected_id')])) {
                ++$lost;
                $this->finding($id, 'missing', 'copy_not_there', $row);
            }
        }

        return $lost;
    }

    private function extras(int $id, int $expectedConversation, int $foundConversation, int $first, int $count): int
    {
        $extra = 0;
        $sql = sprintf('SELECT NULL AS expected_id, f.message_id AS found_id, f.place, f.kind, f.sent_at, f.sender_key,
                f.from_owner
            FROM f.message f LEFT JOIN e.message e ON %s AND e.conversation_id = %d AND e.occurrence = f.occurrence
                AND %s
            WHERE f.message_id >= %d AND f.message_id < %d AND f.conversation_id = %d AND e.message_id IS NULL
                ORDER BY f.place', self::SAME_IDENTITY, $expectedConversation, self::WRITTEN, $first, $first + $count,
            $foundConversation);
        foreach ($this->database->rows($sql) as $row) {
            ++$extra;
            $this->finding($id, 'extra', 'not_expected', $row);
        }

        return $extra;
    }

    /** @param array<string, string|null> $titles */
    private function unexpected(StoredConversation $found, array $titles): void
    {
        $key = $found->conversation->key;
        $id = $this->database->insert(
            'conversation', self::emptyRow($key, $titles[$key] ?? null, $found->conversation->kind->value),
        );
        [$first, $count] = $this->found->range($found->id);
        $extra = $this->extras($id, -1, $found->id, $first, $count);
        $this->fill($id, null, $found->id, new Tallied(Verdict::Extra, extra: $extra));
    }

    /** @param list<string> $aspects */
    private function finding(int $id, string $account, string $reason, Row $row, array $aspects = []): void
    {
        $this->database->insert('finding', [
            'conversation_id' => $id, 'account' => $account, 'reason' => $reason, 'place' => $row->int('place'),
            'expected_id' => $row->nullableInt('expected_id'), 'found_id' => $row->nullableInt('found_id'),
            'kind' => $row->text('kind'), 'sent_at' => $row->int('sent_at'),
            'sender_key' => $row->nullableText('sender_key'), 'from_owner' => $row->int('from_owner'),
            'aspects' => implode(',', $aspects),
        ]);
    }

    /**
     * @return list<string> names of settings that differ
     */
    private function settings(StoredConversation $expected, ?StoredConversation $found): array
    {
        if (null === $found) {
            return [];
        }
        $differing = [];
        $there = $found->conversation->settings();
        foreach ($expected->conversation->settings() as $name => $value) {
            if ($value !== $there[$name]) {
                $differing[] = $name;
            }
        }
        $members = static fn (StoredConversation $c): array => array_map(
            static fn (Member $m): array => $m->canonical(), $c->conversation->members,
        );
        if ($members($expected) !== $members($found)) {
            $differing[] = 'members';
        }
        [$here, $there] = [$expected->conversation->opaque, $found->conversation->opaque];
        ksort($here, \SORT_STRING);
        ksort($there, \SORT_STRING);
        if ($here !== $there) {
            $differing[] = 'opaque';
        }

        return $differing;
    }

    private function fill(int $id, ?int $expectedId, ?int $foundId, Tallied $of): void
    {
        $sides = [];
        foreach ([
            'e' => ['expected', $expectedId, $this->expected], 'f' => ['found', $foundId, $this->found],
        ] as $schema => [$side, $conversationId, $store]) {
            [$first, $count] = null === $conversationId ? [0, 0] : $store->range($conversationId);
            // What stays behind was not meant to be there: neither its times nor its files are missed.
            $isMeant = 'e' === $schema && ($of->accounts['left_out'] ?? 0) > 0 ? self::WRITTEN : null;
            [$earliest, $latest] = $of->times ?? $this->times($schema, $first, $count, $isMeant);
            $onlyMeant = null === $isMeant
                ? ''
                : "AND EXISTS (SELECT 1 FROM e.message e WHERE e.message_id = a.message_id AND $isMeant)";
            $attachments = $this->database->one(
                "SELECT COUNT(*) AS n FROM $schema.attachment a WHERE a.message_id >= ? AND a.message_id < ? "
                    ."AND a.presence IN ('present', 'wrong_type') $onlyMeant",
                [$first, $first + $count],
            );
            $people = $this->database->one(
                "SELECT COUNT(*) AS n FROM $schema.member WHERE conversation_id = ?", [$conversationId],
            );
            $sides += [
                "messages_$side" => $count, "first_$side" => $earliest, "last_$side" => $latest,
                "attachments_$side" => $attachments?->int('n'), "people_$side" => $people?->int('n'),
            ];
        }
        $values = [
            'verdict' => $of->verdict->value, ...$of->accounts, 'extra' => $of->extra, ...$sides,
            'settings' => implode(',', $of->settings), 'rules' => implode(',', $of->rules),
        ];
        $this->database->run(
            'UPDATE conversation SET '.implode(
                ', ', array_map(static fn (string $c): string => "$c = :$c", array_keys($values)),
            ).' WHERE conversation_id = :id',
            [...$values, 'id' => $id],
        );
    }

    /**
     * @param string|null $condition of those that count; where none of them is there, all do
     *
     * @return array{int|null, int|null} times of the first and the last of a side's messages
     */
    private function times(string $schema, int $first, int $count, ?string $condition): array
    {
        $sql = "SELECT MIN(e.sent_at) AS first, MAX(e.sent_at) AS last FROM $schema.message e "
            .'WHERE e.message_id >= ? AND e.message_id < ?';
        $times = null === $condition ? null : $this->database->one("$sql AND $condition", [$first, $first + $count]);
        if (null === $times?->nullableInt('first')) {
            $times = $this->database->one($sql, [$first, $first + $count]);
        }

        return [$times?->nullableInt('first'), $times?->nullableInt('last')];
    }

    /** @return array<string, scalar|null> */
    private static function emptyRow(string $key, ?string $title, string $kind): array
    {
        return ['key' => $key, 'title' => $title, 'kind' => $kind];
    }

    /** @return list<string> names of the aspects that differ */
    private static function differing(Message $expected, Message $found): array
    {
        $differing = [];
        [$here, $there] = [
            array_combine(MessageRow::COLUMNS, MessageRow::values($expected)),
            array_combine(MessageRow::COLUMNS, MessageRow::values($found)),
        ];
        foreach (self::ASPECTS as $column => $aspect) {
            if ($here[$column] !== $there[$column]) {
                $differing[] = $aspect;
            }
        }
        // Details have names of their own: notice, content, edited_at and so on.
        [$here, $there] = [SafeJson::decode((string) $here['details']), SafeJson::decode((string) $there['details'])];
        foreach (array_keys($here + $there) as $name) {
            if (($here[$name] ?? null) !== ($there[$name] ?? null)) {
                $differing[] = (string) $name;
            }
        }

        return array_values(array_unique($differing));
    }

    /** @param list<string> $aspects */
    private static function reason(Message $expected, Message $found, array $aspects): string
    {
        if (['attachments'] !== $aspects) {
            return 'different';
        }
        $there = array_map(static fn (Attachment $a): array => $a->canonical(), $found->attachments);
        foreach ($expected->attachments as $index => $attachment) {
            if (!isset($found->attachments[$index])) {
                return 'attachment_not_there';
            }
            if ($attachment->canonical() !== $there[$index]) {
                return $attachment->presence->hasFile() && !$found->attachments[$index]->presence->hasFile()
                    ? 'attachment_not_there'
                    : 'attachment_different';
            }
        }

        return 'attachment_different';
    }
}
