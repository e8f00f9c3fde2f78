<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\StoredConversation;
use Geschenk\Core\Store\StoredMessage;
use Geschenk\Core\UnusableInput;

/** What was selected of a backup that is open, as streams. Whoever is in none of it is not named. */
final readonly class Extract
{
    public function __construct(
        public ChatStore $chats,
        public ContentFiles $files,
        public Selected $selected = new Selected(),
    ) {
    }

    /**
     * @return \Generator<int, StoredConversation> the newest first
     *
     * @throws UnusableInput
     */
    public function conversations(): \Generator
    {
        foreach ($this->chats->overview() as $one) {
            if (!$this->selected->hasConversation($one['key'])) {
                continue;
            }
            if ($this->selected->isWholeConversations() || $this->messages($one['id'])->valid()) {
                yield $this->chats->conversationById($one['id']);
            }
        }
    }

    /** @return \Generator<int, StoredMessage> of one conversation, in their order */
    public function messages(int $conversation): \Generator
    {
        foreach ($this->chats->messages($conversation) as $message) {
            if ($this->selected->hasMessage($message->message->kind, $message->message->sentAt)) {
                yield $message;
            }
        }
    }

    /** @return int messages of one conversation */
    public function count(int $conversation): int
    {
        return $this->selected->isWholeConversations()
            ? $this->chats->messageCount($conversation)
            : iterator_count($this->messages($conversation));
    }

    /** @return \Generator<int, Person> who says something in it, or is a member of one of its conversations */
    public function people(): \Generator
    {
        $isIn = [];
        if (!$this->selected->isAll()) {
            foreach ($this->conversations() as $conversation) {
                $isIn[$conversation->conversation->key] = true;
                foreach ($conversation->conversation->members as $member) {
                    $isIn[$member->personKey] = true;
                }
                foreach ($this->messages($conversation->id) as $message) {
                    $isIn[$message->message->senderKey ?? ''] = true;
                }
            }
        }
        foreach ($this->chats->people() as $person) {
            if ($this->selected->isAll() || isset($isIn[$person->key])) {
                yield $person;
            }
        }
    }

    /** @return array{conversations: int, messages: int, files: int, bytes: int} of files those that are there */
    public function sums(): array
    {
        $kinds = array_filter(Kind::cases(), $this->selected->hasKind(...));
        $where = sprintf("m.kind IN ('%s')", implode("', '", array_map(
            static fn (Kind $kind): string => $kind->value, $kinds,
        )));
        foreach (['>=' => $this->selected->since, '<' => $this->selected->before] as $sign => $moment) {
            $where .= null === $moment ? '' : " AND m.sent_at $sign $moment";
        }
        $ids = [];
        foreach ($this->chats->keys() as $id => $key) {
            if ($this->selected->hasConversation($key)) {
                $ids[] = $id;
            }
        }
        if (null !== $this->selected->conversations) {
            $where .= ' AND m.conversation_id IN ('.implode(', ', $ids).')';
        }
        $database = $this->chats->connect();
        try {
            $messages = $database->one(<<<SQL
                SELECT COUNT(*) AS messages, COUNT(DISTINCT m.conversation_id) AS conversations
                FROM message m WHERE $where
                SQL);
            $files = $database->one(<<<SQL
                SELECT COUNT(*) AS files, COALESCE(SUM(a.bytes), 0) AS bytes
                FROM attachment a JOIN message m USING (message_id)
                WHERE a.presence IN ('present', 'empty', 'wrong_type') AND $where
                SQL);
        } finally {
            $database->close();
        }

        return [
            // Of whole conversations, those in which nothing was said as well.
            'conversations' => $this->selected->isWholeConversations()
                ? count($ids)
                : $messages?->int('conversations') ?? 0,
            'messages' => $messages?->int('messages') ?? 0,
            'files' => $files?->int('files') ?? 0, 'bytes' => $files?->int('bytes') ?? 0,
        ];
    }
}
