<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoredConversation;

/**
 * Holds what was expected against what was read back, conversation by conversation, down to the message, and puts
 * each message into one of four accounts. Two stores are joined by SQLite, so memory does not grow with their size.
 */
final class Comparison
{
    private Database $database;

    public function __construct(private readonly ChatStore $expected, private readonly ChatStore $found)
    {
    }

    /** @param string $path where the result goes; appears only when it is complete */
    public function run(string $path, Progress $progress): Result
    {
        @unlink($path.'.part');
        $this->database = Database::create($path.'.part');
        $this->database->execute(Schema::TABLES);
        $this->database->run('ATTACH ? AS e', [$this->expected->path]);
        $this->database->run('ATTACH ? AS f', [$this->found->path]);
        $this->database->execute('BEGIN');
        $progress->phase('comparing', $this->expected->messageCount());
        $titles = array_column($this->expected->overview(), 'title', 'key') + array_column($this->found->overview(), 'title', 'key');
        foreach ($this->expected->conversations() as $stored) {
            $this->conversation($stored, $this->found->conversation($stored->conversation->key), $titles, $progress);
        }
        foreach ($this->found->conversations() as $stored) {
            if (null === $this->expected->conversation($stored->conversation->key)) {
                $this->unexpected($stored, $titles);
            }
        }
        $this->database->execute('COMMIT; DETACH e; DETACH f');
        $this->database->close();
        if (!rename($path.'.part', $path)) {
            throw new \RuntimeException(sprintf('The result at %s could not be put in place.', $path));
        }

        return new Result($path);
    }

    /** @param array<string, string|null> $titles */
    private function conversation(StoredConversation $expected, ?StoredConversation $found, array $titles, Progress $progress): void
    {
        $key = $expected->conversation->key;
        $id = $this->database->insert('conversation', self::emptyRow($key, $titles[$key] ?? null, $expected->conversation->kind->value));
        $accounts = ['arrived' => 0, 'changed' => 0, 'left_out' => 0, 'missing' => 0];
        $rules = array_fill_keys($expected->rules, 0);
        $sql = <<<'SQL'
            SELECT e.message_id AS expected_id, f.message_id AS found_id, e.place, e.kind, e.sent_at, e.sender_key, e.from_owner, e.fate, e.rules, e.digest = f.digest AS same
            FROM e.message e LEFT JOIN f.message f ON f.conversation_id = ? AND f.identity = e.identity AND f.occurrence = e.occurrence
            WHERE e.conversation_id = ? ORDER BY e.place
            SQL;
        foreach ($this->database->rows($sql, [$found->id ?? -1, $expected->id]) as $row) {
            $fate = Fate::from($row->text('fate'));
            $progress->advance(1);
            if (Fate::LeftOut === $fate) {
                ++$accounts['left_out'];
                $this->countMonth($id, $row->int('sent_at'), 0, 0);
                continue;
            }
            if (null !== $row->nullableInt('found_id') && $row->bool('same')) {
                ++$accounts[Fate::Changed === $fate ? 'changed' : 'arrived'];
                $this->countMonth($id, $row->int('sent_at'), 1, 1);
                continue;
            }
            ++$accounts['missing'];
            $this->countMonth($id, $row->int('sent_at'), 1, 0);
            $this->difference($id, $row);
        }
        $extra = null === $found ? 0 : $this->extras($id, $expected->id, $found->id);
        $settings = $this->settings($expected, $found);
        $isLeftOut = Fate::LeftOut === $expected->fate;
        // What was to stay behind and is nevertheless there counts as extra, message by message.
        if ($isLeftOut && null !== $found) {
            $extra += $this->found->messageCount($found->id) - $extra;
        }
        $verdict = match (true) {
            $accounts['missing'] > 0 || (!$isLeftOut && null === $found) || (!$isLeftOut && [] !== $settings) => Verdict::Missing,
            $extra > 0 => Verdict::Extra,
            $isLeftOut => Verdict::LeftOut,
            $accounts['changed'] > 0 || Fate::Changed === $expected->fate => Verdict::Changed,
            default => Verdict::Arrived,
        };
        foreach ($this->database->few('SELECT DISTINCT rules FROM e.message WHERE conversation_id = ? AND rules IS NOT NULL', [$expected->id]) as $row) {
            foreach (\Geschenk\Core\Store\SafeJson::decode($row->text('rules')) as $rule) {
                $rules[(string) $rule] = 0;
            }
        }
        $this->fill($id, $verdict, $accounts, $extra, $expected->id, $found?->id, $settings, array_keys($rules));
    }

    /** @param array<string, string|null> $titles */
    private function unexpected(StoredConversation $found, array $titles): void
    {
        $key = $found->conversation->key;
        $id = $this->database->insert('conversation', self::emptyRow($key, $titles[$key] ?? null, $found->conversation->kind->value));
        $extra = $this->extras($id, -1, $found->id);
        $this->fill($id, Verdict::Extra, ['arrived' => 0, 'changed' => 0, 'left_out' => 0, 'missing' => 0], $extra, null, $found->id, [], []);
    }

    private function difference(int $id, Row $row): void
    {
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
            $reason = self::reason($expected, $found, $aspects);
        }
        $this->finding($id, 'missing', $reason, $row, $row->int('expected_id'), $foundId, $aspects);
    }

    private function extras(int $id, int $expectedConversation, int $foundConversation): int
    {
        $count = 0;
        $sql = <<<'SQL'
            SELECT f.message_id AS found_id, f.place, f.kind, f.sent_at, f.sender_key, f.from_owner
            FROM f.message f LEFT JOIN e.message e ON e.conversation_id = ? AND e.identity = f.identity AND e.occurrence = f.occurrence
            WHERE f.conversation_id = ? AND e.message_id IS NULL ORDER BY f.place
            SQL;
        foreach ($this->database->rows($sql, [$expectedConversation, $foundConversation]) as $row) {
            ++$count;
            $this->finding($id, 'extra', 'not_expected', $row, null, $row->int('found_id'), []);
        }

        return $count;
    }

    /** @param list<string> $aspects */
    private function finding(int $id, string $account, string $reason, Row $row, ?int $expectedId, ?int $foundId, array $aspects): void
    {
        $this->database->insert('finding', [
            'conversation_id' => $id, 'account' => $account, 'reason' => $reason, 'place' => $row->int('place'), 'expected_id' => $expectedId, 'found_id' => $foundId,
            'kind' => $row->text('kind'), 'sent_at' => $row->int('sent_at'), 'sender_key' => $row->nullableText('sender_key'), 'from_owner' => $row->int('from_owner'), 'aspects' => implode(',', $aspects),
        ]);
    }

    private function countMonth(int $id, int $sentAt, int $expected, int $there): void
    {
        // Far-off times are kept as they are; they share one month at each end so that the picture stays a picture.
        $month = match (true) {
            $sentAt < 0 => '0000-00',
            $sentAt >= 4_102_444_800_000 => '9999-99',
            default => gmdate('Y-m', intdiv($sentAt, 1000)),
        };
        $this->database->run('INSERT INTO month VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET expected = expected + excluded.expected, there = there + excluded.there', [$id, $month, $expected, $there]);
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
        $members = static fn (StoredConversation $c): array => array_map(static fn (Member $m): array => $m->canonical(), $c->conversation->members);
        if ($members($expected) != $members($found)) {
            $differing[] = 'members';
        }
        if ($expected->conversation->opaque != $found->conversation->opaque) {
            $differing[] = 'opaque';
        }

        return $differing;
    }

    /**
     * @param array{arrived: int, changed: int, left_out: int, missing: int} $accounts
     * @param list<string>                                                   $settings
     * @param list<string>                                                   $rules
     */
    private function fill(int $id, Verdict $verdict, array $accounts, int $extra, ?int $expectedId, ?int $foundId, array $settings, array $rules): void
    {
        $sides = [];
        foreach (['e' => ['expected', $expectedId], 'f' => ['found', $foundId]] as $schema => [$side, $conversationId]) {
            $messages = $this->database->one("SELECT COUNT(*) AS n, MIN(sent_at) AS first, MAX(sent_at) AS last FROM $schema.message WHERE conversation_id = ?", [$conversationId]);
            $attachments = $this->database->one("SELECT COUNT(*) AS n FROM $schema.attachment a JOIN $schema.message m USING (message_id) WHERE m.conversation_id = ? AND a.presence = 'present'", [$conversationId]);
            $people = $this->database->one("SELECT COUNT(*) AS n FROM $schema.member WHERE conversation_id = ?", [$conversationId]);
            $sides += [
                "messages_$side" => $messages?->int('n'), "first_$side" => $messages?->nullableInt('first'), "last_$side" => $messages?->nullableInt('last'),
                "attachments_$side" => $attachments?->int('n'), "people_$side" => $people?->int('n'),
            ];
        }
        $values = ['verdict' => $verdict->value, ...$accounts, 'extra' => $extra, ...$sides, 'settings' => implode(',', $settings), 'rules' => implode(',', $rules)];
        $this->database->run('UPDATE conversation SET '.implode(', ', array_map(static fn (string $c): string => "$c = :$c", array_keys($values))).' WHERE conversation_id = :id', [...$values, 'id' => $id]);
    }

    /** @return array<string, scalar|null> */
    private static function emptyRow(string $key, ?string $title, string $kind): array
    {
        return [
            'key' => $key, 'title' => $title, 'kind' => $kind, 'verdict' => '', 'arrived' => 0, 'changed' => 0, 'left_out' => 0, 'missing' => 0, 'extra' => 0,
            'messages_expected' => 0, 'messages_found' => 0, 'attachments_expected' => 0, 'attachments_found' => 0, 'people_expected' => 0, 'people_found' => 0, 'settings' => '', 'rules' => '',
        ];
    }

    /** @return list<string> names of the aspects that differ */
    private static function differing(Message $expected, Message $found): array
    {
        $there = $found->aspects();
        $differing = [];
        foreach ($expected->aspects() as $name => $value) {
            if (serialize($value) !== serialize($there[$name])) {
                $differing[] = $name;
            }
        }

        return $differing;
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
                return $attachment->presence->hasFile() && !$found->attachments[$index]->presence->hasFile() ? 'attachment_not_there' : 'attachment_different';
            }
        }

        return 'attachment_different';
    }
}
