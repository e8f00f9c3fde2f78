<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;

/**
 * The outcome of a comparison, read from its file.
 *
 * @phpstan-type ConversationRow array{
 *     id: int, key: string, title: string|null, kind: string, verdict: string, arrived: int, changed: int,
 *     left_out: int, missing: int, extra: int, added: int, added_missing: int, kept: int, kept_missing: int,
 *     messages_expected: int,
 *     messages_found: int, attachments_expected: int, attachments_found: int, people_expected: int, people_found: int,
 *     first_expected: int|null, first_found: int|null, last_expected: int|null, last_found: int|null,
 *     settings: list<string>, rules: list<string>,
 * }
 * @phpstan-type FindingRow array{
 *     id: int, account: string, reason: string, place: int|null, expected_id: int|null, found_id: int|null,
 *     kind: string, sent_at: int, sender_key: string|null, from_owner: bool, aspects: list<string>,
 * }
 */
final class Result
{
    private readonly Database $database;

    /** Checks that were made before chats could be merged know nothing of what was kept. */
    private readonly bool $tellsKept;

    /** @param object|null $behind what has to be there for as long as it is asked: what it was unpacked into */
    public function __construct(public readonly string $path, public readonly ?object $behind = null)
    {
        $this->database = Database::openReadOnly($path);
        $this->tellsKept = null !== $this->database->one(
            "SELECT 1 AS here FROM pragma_table_info('conversation') WHERE name = 'kept'",
        );
    }

    public function totals(): Totals
    {
        $kept = $this->tellsKept ? 'SUM(kept) AS kept, SUM(kept_missing) AS kept_missing, ' : '';
        $keptIsThere = $this->tellsKept ? 'kept_missing = 0 AND ' : '';
        $row = $this->database->one(
            'SELECT '.$kept.'COUNT(*) AS conversations, SUM(arrived) AS arrived, SUM(changed) AS changed, '
                .'SUM(left_out) AS left_out, SUM(missing) AS missing, SUM(extra) AS extra, '
                .'SUM(arrived + changed + left_out + missing) AS messages, '
                ."SUM(settings <> '') + SUM(verdict = 'missing' AND missing = 0 AND added_missing = 0 AND $keptIsThere"
                ."settings = '') AS settings, SUM(added) AS added, SUM(added_missing) AS added_missing, "
                ."SUM(verdict = 'extra' AND extra = 0) AS conversations_extra, (SELECT SUM(differing) "
                .'FROM account) AS account FROM conversation',
        ) ?? new Row([]);
        $n = static fn (string $column): int => $row->nullableInt($column) ?? 0;

        return new Totals(
            $n('conversations'), $n('messages'), $n('arrived'), $n('changed'), $n('left_out'), $n('missing'),
            $n('extra'), $n('settings'), $n('added'), $n('added_missing'), $n('account'), $n('conversations_extra'),
            $n('kept'), $n('kept_missing'),
        );
    }

    /**
     * A row a conversation: differences first, then the newest.
     *
     * @return list<ConversationRow>
     */
    public function conversations(): array
    {
        $list = [];
        foreach ($this->database->few(
            "SELECT * FROM conversation ORDER BY CASE verdict WHEN 'missing' THEN 0 WHEN 'extra' THEN 1 WHEN "
                ."'left_out' THEN 2 WHEN 'changed' THEN 3 ELSE 4 END, missing DESC, last_expected DESC NULLS LAST, "
                .'conversation_id',
        ) as $row) {
            $list[] = [
                'id' => $row->int('conversation_id'), 'key' => $row->text('key'),
                'title' => $row->nullableText('title'), 'kind' => $row->text('kind'),
                'verdict' => $row->text('verdict'),
                'arrived' => $row->int('arrived'), 'changed' => $row->int('changed'),
                'left_out' => $row->int('left_out'), 'missing' => $row->int('missing'), 'extra' => $row->int('extra'),
                'added' => $row->int('added'), 'added_missing' => $row->int('added_missing'),
                'kept' => $this->tellsKept ? $row->int('kept') : 0,
                'kept_missing' => $this->tellsKept ? $row->int('kept_missing') : 0,
                'messages_expected' => $row->int('messages_expected'), 'messages_found' => $row->int('messages_found'),
                'attachments_expected' => $row->int(
                    'attachments_expected',
                ), 'attachments_found' => $row->int('attachments_found'),
                'people_expected' => $row->int('people_expected'), 'people_found' => $row->int('people_found'),
                'first_expected' => $row->nullableInt('first_expected'),
                'first_found' => $row->nullableInt('first_found'),
                'last_expected' => $row->nullableInt('last_expected'), 'last_found' => $row->nullableInt('last_found'),
                'settings' => self::words($row->text('settings')), 'rules' => self::words($row->text('rules')),
            ];
        }

        return $list;
    }

    /**
     * Messages sent and found by month, and those that nobody expected.
     *
     * @return array<int, list<array{month: string, expected: int, there: int, extra: int}>> by conversation id
     */
    public function months(): array
    {
        $months = [];
        $far = Comparison::FAR_OFF_MS;
        $sql = <<<SQL
            SELECT conversation_id, month, SUM(expected) AS expected, SUM(there) AS there, SUM(extra) AS extra FROM (
                SELECT conversation_id, month, expected, there, 0 AS extra FROM month
                UNION ALL
                SELECT conversation_id, CASE WHEN sent_at < 0 THEN '0000-00' WHEN sent_at >= $far THEN '9999-99'
                        ELSE strftime('%Y-%m', sent_at / 1000, 'unixepoch') END AS month, 0, 0, COUNT(*)
                    FROM finding WHERE account = 'extra' GROUP BY conversation_id, 2
            ) GROUP BY conversation_id, month ORDER BY conversation_id, month
            SQL;
        foreach ($this->database->few($sql) as $row) {
            $months[$row->int('conversation_id')][] = [
                'month' => $row->text('month'), 'expected' => $row->int('expected'), 'there' => $row->int('there'),
                'extra' => $row->int('extra'),
            ];
        }

        return $months;
    }

    /** @return list<FindingRow> */
    public function findings(int $conversationId, int $from = 0, int $limit = 200): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->int('finding_id'), 'account' => $row->text('account'), 'reason' => $row->text('reason'),
            'place' => $row->nullableInt('place'), 'expected_id' => $row->nullableInt('expected_id'),
            'found_id' => $row->nullableInt('found_id'), 'kind' => $row->text('kind'),
            'sent_at' => $row->int('sent_at'), 'sender_key' => $row->nullableText('sender_key'),
            'from_owner' => $row->bool('from_owner'), 'aspects' => self::words($row->text('aspects')),
        ], $this->database->few(
            'SELECT * FROM finding WHERE conversation_id = ? ORDER BY finding_id LIMIT ? OFFSET ?',
            [$conversationId, $limit, $from],
        ));
    }

    /**
     * What belongs to the account and to no conversation.
     *
     * @return list<array{what: string, expected: int, found: int, differing: int}>
     */
    public function account(): array
    {
        return array_map(
            static fn (Row $row): array => [
                'what' => $row->text('what'), 'expected' => $row->int('expected'), 'found' => $row->int('found'),
                'differing' => $row->int('differing'),
            ],
            $this->database->few('SELECT * FROM account ORDER BY what'),
        );
    }

    /**
     * What differs of it, by name: `subject` is a person's key or the place of a label or an answer, `called` what
     * people call it, `how` one of missing, extra, different.
     *
     * @return list<array{what: string, subject: string|null, called: string|null, how: string}>
     */
    public function accountDifferences(int $limit = 200): array
    {
        $sql = <<<'SQL'
            SELECT what, CAST(subject AS BLOB) AS subject, how, CAST(called AS BLOB) AS called FROM account_difference
                ORDER BY rowid LIMIT ?
            SQL;

        return array_map(static fn (Row $row): array => [
            'what' => $row->text('what'), 'subject' => $row->nullableText('subject'),
            'called' => $row->nullableText('called'),
            'how' => $row->text('how'),
        ], $this->database->few($sql, [$limit]));
    }

    /**
     * How often each reason stands among the missing and the extra.
     *
     * @return array<string, int>
     */
    public function reasons(): array
    {
        $reasons = [];
        foreach ($this->database->few(
            'SELECT reason, COUNT(*) AS n FROM finding GROUP BY reason ORDER BY n DESC',
        ) as $row) {
            $reasons[$row->text('reason')] = $row->int('n');
        }

        return $reasons;
    }

    /** @return list<string> */
    private static function words(string $list): array
    {
        return '' === $list ? [] : explode(',', $list);
    }
}
