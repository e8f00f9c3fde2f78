<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Sqlite\Database;

/**
 * A store looked through by kind or by words, in all conversations at once, newest first. One page at a time, and each
 * begins behind the last message of the one before, so that memory stays the same however much there is.
 */
final readonly class AcrossChats
{
    /** Messages that are looked into for one page of hits; what is behind them comes with the next. */
    private const LOOKED_INTO = 20_000;

    private Database $database;

    public function __construct(private ChatStore $chats)
    {
        $this->database = $chats->connect();
    }

    public function count(ByKind $kind): int
    {
        $condition = $kind->condition();

        return $this->database->one("SELECT COUNT(*) AS n FROM message m WHERE $condition")?->int('n') ?? 0;
    }

    /**
     * @param int|null $behind id of the message that the page begins behind; null for the newest
     *
     * @return list<array{conversation: int, message: StoredMessage}>
     */
    public function page(ByKind $kind, ?int $behind, int $limit): array
    {
        $page = [];
        foreach ($this->ids($kind->condition(), [], $behind, $limit) as [$id, $conversation]) {
            $message = $this->chats->glimpse($id);
            if (null !== $message) {
                $page[] = ['conversation' => $conversation, 'message' => $message];
            }
        }

        return $page;
    }

    /**
     * Messages in which words stand.
     *
     * @param int|null $behind as for page()
     *
     * @return array{
     *     found: list<array{conversation: int, message: StoredMessage, parts: list<array{text: string, hit: bool}>}>,
     *     behind: int|null,
     * } behind: where the next page begins; null where there is none
     */
    public function find(string $words, ?int $behind, int $limit): array
    {
        $hits = new Hits($words);
        $inJson = new Hits(addcslashes($words, '\\"'));
        $this->database->define('holds', static fn (mixed $text, mixed $words): int => (int) (
            is_string($text) && ($words === $hits->words ? $hits : $inJson)->isIn($text)
        ), 2);
        // SQLite knows upper and lower case of ASCII alone, and no text behind a NUL; it is much the quicker.
        $isPlain = mb_check_encoding($hits->words, 'ASCII');
        $holds = static fn (string $column): string => $isPlain
            ? "($column LIKE ? ESCAPE '\\' OR (instr(CAST($column AS BLOB), x'00') > 0 AND holds($column, ?)))"
            : "($column LIKE ? ESCAPE '\\' OR holds($column, ?))";
        // As they stand in a text, and as they stand in JSON.
        $asked = [];
        foreach ([$hits->words, $inJson->words, $hits->words] as $form) {
            array_push($asked, '%'.addcslashes($form, '\\%_').'%', $form);
        }
        // Too much of the details is better than too little: what it really says is looked at below.
        $condition = sprintf(
            '(%s OR (m.details IS NOT NULL AND %s) OR (m.attachments IS NOT NULL AND EXISTS (SELECT 1 '
                .'FROM attachment a WHERE a.message_id = m.message_id AND %s)))',
            $holds('m.body'), $holds('m.details'), $holds('a.shown_name'),
        );
        $found = [];
        $looked = 0;
        foreach ($this->ids($condition, $asked, $behind, self::LOOKED_INTO + 1) as [$id, $inside]) {
            if (++$looked > self::LOOKED_INTO || count($found) === $limit) {
                return ['found' => $found, 'behind' => $behind];
            }
            $behind = $id;
            $whole = $this->chats->message($id);
            $parts = null === $whole ? [] : $hits->of($whole->message);
            $message = [] === $parts ? null : $this->chats->glimpse($id);
            if (null !== $message) {
                $found[] = ['conversation' => $inside, 'message' => $message, 'parts' => $parts];
            }
        }

        return ['found' => $found, 'behind' => null];
    }

    /**
     * @param list<string> $parameters of the condition
     *
     * @return \Generator<int, array{int, int}> ids of message and conversation
     */
    private function ids(string $condition, array $parameters, ?int $behind, int $limit): \Generator
    {
        $sql = <<<SQL
            SELECT m.message_id, m.conversation_id FROM message m
            WHERE $condition AND (? IS NULL OR (m.sent_at, m.message_id)
                < (SELECT b.sent_at, b.message_id FROM message b WHERE b.message_id = ?))
            ORDER BY m.sent_at DESC, m.message_id DESC LIMIT ?
            SQL;
        foreach ($this->database->lists($sql, [...$parameters, $behind, $behind, $limit]) as $row) {
            /** @var array{int, int} $row */
            yield $row;
        }
    }
}
