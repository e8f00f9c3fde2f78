<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreEditor;

/**
 * Rooms and people of which a phone has lost all but their number are known by that alone, and another phone may have
 * the same number for somebody else. They are one only where both phones have a message of theirs in common; where not,
 * those of the backup get a name of their own, which is made of what they said and so is always the same.
 */
final class Strangers
{
    private const BY_NUMBER = '/^(conversation|person)-(\d+|unknown)$/D';
    private const FINGERPRINT = 8;

    /**
     * @param string $path of what is meant to arrive, a chat store that is not in use: it is changed
     *
     * @return int rooms and people that got a name of their own
     */
    public static function tellApart(string $path, ChatStore $there): int
    {
        $database = Database::create($path);
        $there->attachTo($database, 't');
        $told = 0;
        $rooms = 'SELECT conversation_id, key, first_message_id AS first, messages FROM main.conversation '
            ."WHERE key GLOB 'conversation-*'";
        foreach ($database->few($rooms) as $row) {
            $range = sprintf(
                'x.message_id >= %d AND x.message_id < %d', $row->int('first'),
                $row->int('first') + $row->int('messages'),
            );
            $inRoom = 'y.conversation_id = (SELECT c.conversation_id FROM t.conversation c WHERE c.key = :key)';
            $name = self::ownName($database, 'conversation', $row->text('key'), $range, $inRoom);
            if (null !== $name) {
                $database->run(
                    'UPDATE main.conversation SET key = ? WHERE conversation_id = ?',
                    [$name, $row->int('conversation_id')],
                );
                ++$told;
            }
        }
        $people = [];
        foreach ($database->few("SELECT key FROM main.person WHERE key GLOB 'person-*'") as $row) {
            $key = $row->text('key');
            $name = self::ownName($database, 'person', $key, 'x.sender_key = :key', 'y.sender_key = :key');
            if (null !== $name) {
                $people[$key] = $name;
            }
        }
        $database->detach('t');
        if ([] !== $people) {
            self::renamePeople($database, new ChatStore($path), $people);
        }
        $database->close();

        return $told + count($people);
    }

    /**
     * @param string $own    that x is theirs, with :key
     * @param string $theirs that y is of whom the phone calls so, with :key
     *
     * @return string|null null where the one that they have may stay
     */
    private static function ownName(
        Database $database,
        string $table,
        string $key,
        string $own,
        string $theirs,
    ): ?string {
        if (1 !== preg_match(self::BY_NUMBER, $key)) {
            return null;
        }
        $params = str_contains($own, ':key') ? ['key' => $key] : [];
        $first = $database->one("SELECT MIN(x.identity) AS first FROM main.message x WHERE $own", $params);
        $name = $key.'-'.substr(hash('xxh128', $first?->nullableText('first') ?? ''), 0, self::FINGERPRINT);
        $isThere = static fn (string $who): bool => null !== $database->one(
            "SELECT 1 AS here FROM t.$table WHERE key = ?", [$who],
        );
        if ($isThere($name)) {
            return $name;
        }
        $common = "SELECT 1 AS here FROM t.message y WHERE $theirs AND EXISTS (SELECT 1 FROM main.message x "
            ."WHERE $own AND x.identity = y.identity AND x.sent_at = y.sent_at) LIMIT 1";
        $isFree = !$isThere($key) || null !== $database->one($common, ['key' => $key]);

        return $isFree ? null : $name;
    }

    /** @param non-empty-array<string, string> $people new key by old */
    private static function renamePeople(Database $database, ChatStore $chats, array $people): void
    {
        $editor = new StoreEditor($database);
        foreach ($people as $old => $new) {
            $database->run('UPDATE main.person SET key = ? WHERE key = ?', [$new, $old]);
            $database->run('UPDATE main.person SET former_key = ? WHERE former_key = ?', [$new, $old]);
            $database->run('UPDATE OR IGNORE main.member SET person_key = ? WHERE person_key = ?', [$new, $old]);
            $touched = 'SELECT message_id FROM main.message WHERE sender_key = :key '
                .'OR instr(reactions, :in) OR instr(receipts, :in) OR instr(details, :in)';
            foreach ($database->few($touched, ['key' => $old, 'in' => '"'.$old.'"']) as $row) {
                $id = $row->int('message_id');
                $before = $chats->message($id)->message ?? throw new \LogicException('A message vanished.');
                $editor->message($id, $before, self::renamed($before, $people));
            }
        }
        $chats->close();
        $editor->finish();
    }

    /** @param non-empty-array<string, string> $people */
    private static function renamed(Message $message, array $people): Message
    {
        /** @return ($key is null ? null : string) */
        $name = static fn (?string $key): ?string => null === $key ? null : $people[$key] ?? $key;
        [$quote, $notice, $content] = [$message->quote, $message->notice, $message->content];

        return $message->with([
            'senderKey' => $name($message->senderKey),
            'reactions' => array_map(
                static fn (Reaction $r): Reaction => new Reaction($name($r->personKey), $r->sign, $r->givenAt),
                $message->reactions,
            ),
            'receipts' => array_map(
                static fn (Receipt $r): Receipt => new Receipt(
                    $people[$r->personKey] ?? $r->personKey, $r->deliveredAt, $r->readAt, $r->heardAt,
                ),
                $message->receipts,
            ),
            'mentions' => array_map(
                static fn (Mention $m): Mention => new Mention(
                    $people[$m->personKey] ?? $m->personKey, $m->start, $m->length,
                ),
                $message->mentions,
            ),
            'quote' => null === $quote ? null : new Quote(
                $name($quote->senderKey), $quote->fromOwner, $quote->kind, $quote->text, $quote->sentAt,
            ),
            'notice' => null === $notice ? null : new Notice(
                $notice->kind, $name($notice->actorKey), $name($notice->targetKey), $notice->text,
            ),
            'content' => match (true) {
                $content instanceof Deletion => new Deletion($name($content->byKey), $content->deletedAt),
                $content instanceof Poll => new Poll($content->several, $content->closedAt, array_map(
                    static fn (array $answer): array => ['text' => $answer['text'], 'votes' => array_map(
                        static fn (array $vote): array => ['who' => $name($vote['who']), 'at' => $vote['at']],
                        $answer['votes'],
                    )],
                    $content->answers,
                )),
                default => $content,
            },
        ]);
    }
}
