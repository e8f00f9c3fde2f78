<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\UnusableInput;

/**
 * Whether a chat store that came from elsewhere is one throughout: each of its rows is what its table promises, and
 * what is counted in it is there. Whoever reads it later has to rely on that.
 */
final class SoundStore
{
    /** What is wrong with one, by a query that finds a row of it. */
    private const NONE_OF = [
        'a message that is not among those of its conversation' => <<<'SQL'
            SELECT 1 AS here
            FROM message m
            LEFT JOIN conversation c ON c.conversation_id = m.conversation_id
                AND m.message_id >= c.first_message_id AND m.message_id < c.first_message_id + c.messages
            WHERE c.conversation_id IS NULL
            LIMIT 1
            SQL,
        'an attachment of no message' => <<<'SQL'
            SELECT 1 AS here
            FROM attachment a
            LEFT JOIN message m ON m.message_id = a.message_id AND m.attachments IS NOT NULL
            WHERE m.message_id IS NULL
            LIMIT 1
            SQL,
        'a message without its attachments' => <<<'SQL'
            SELECT 1 AS here
            FROM message m
            WHERE m.attachments IS NOT NULL
                AND NOT EXISTS (SELECT 1 FROM attachment a WHERE a.message_id = m.message_id)
            LIMIT 1
            SQL,
        'something in a message that is no JSON' => <<<'SQL'
            SELECT 1 AS here
            FROM message
            WHERE NOT (json_valid(coalesce(details, '{}')) AND json_valid(coalesce(reactions, '[]'))
                AND json_valid(coalesce(receipts, '[]')) AND json_valid(coalesce(opaque, '{}')))
            LIMIT 1
            SQL,
    ];

    /**
     * @param string $name what errors call it
     *
     * @throws UnusableInput
     */
    public static function ensure(string $path, string $name, Progress $progress): void
    {
        try {
            $database = new Database(new \SQLite3($path, \SQLITE3_OPEN_READONLY));
            foreach (self::NONE_OF as $wrong => $query) {
                null === $database->one($query) ?: throw UnusableInput::damaged($name, $wrong);
            }
            $database->close();
            $chats = new ChatStore($path);
            $chats->source();
            iterator_count($chats->people());
            iterator_count($chats->contentKeys());
            $chats->labels();
            $chats->cannedAnswers();
            $chats->findings();
            foreach ($chats->conversations() as $conversation) {
                self::ensureConversation($chats, $conversation->id, $name, $progress);
            }
            $chats->overview();
            $chats->summary();
            $chats->close();
        } catch (\TypeError|\ValueError|\UnexpectedValueException $error) {
            throw UnusableInput::damaged($name, $error->getMessage(), $error);
        }
    }

    /**
     * Whether it is chats, and no plan of what of them is brought.
     *
     * @throws UnusableInput
     */
    public static function ensureNoPlan(string $path, string $name): void
    {
        $database = new Database(new \SQLite3($path, \SQLITE3_OPEN_READONLY));
        $row = $database->one("SELECT 1 AS here FROM message WHERE fate <> 'whole' LIMIT 1");
        $database->close();
        null === $row ?: throw UnusableInput::damaged($name, 'a plan of what is brought, and no chats');
    }

    /** @throws UnusableInput */
    private static function ensureConversation(ChatStore $chats, int $id, string $name, Progress $progress): void
    {
        $messages = 0;
        foreach ($chats->messages($id) as $_) {
            ++$messages;
            $progress->advance(1);
        }
        [, $promised] = $chats->range($id);
        if ($messages !== $promised) {
            throw UnusableInput::cutShort($name, $messages, $promised);
        }
    }
}
