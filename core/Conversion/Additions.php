<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoredConversation;
use Geschenk\Core\Store\StoredMessage;
use Geschenk\Core\Store\StoreWriter;

/** Messages that a conversion makes: the copies of a broadcast list's messages, and notices of what stayed behind. */
final class Additions
{
    /** @var list<int> conversations whose messages go out as copies */
    private array $spread = [];
    /** @var list<Message> for the notes to self */
    private array $notices = [];

    public function __construct(private readonly Route $route)
    {
    }

    public function any(): bool
    {
        return [] !== $this->spread || [] !== $this->notices;
    }

    public function spread(int $conversationId): void
    {
        $this->spread[] = $conversationId;
    }

    /**
     * @param int $newest when the list's last message was sent, milliseconds since 1970 UTC: the notice stands there
     */
    public function notice(Conversation $list, int $messages, int $newest): void
    {
        $text = sprintf('%s · %d people · %d messages', $list->title ?? $list->key, count($list->members), $messages);
        $this->notices[] = new Message(
            null, null, false, Kind::Notice, null, $newest, null, DeliveryState::Received,
            notice: new Notice(NoticeKind::ListStayed, null, null, $text),
        );
    }

    /**
     * Makes a chat store of another with the additions in their places, by the time at which they were sent.
     *
     * @param int $judgedAt the plan's moment, milliseconds since 1970 UTC
     */
    public function into(string $from, string $path, Progress $progress, int $judgedAt): void
    {
        $chats = new ChatStore($from);
        $writer = new StoreWriter($path);
        $chats->copyFrame($writer);
        $writer->judgedAt($judgedAt);
        /**
         * @var array<string, list<array{
         *     Message, int,
         * }>> $copies by the key of the conversation that gets them, with the original's id
         */
        $copies = [];
        foreach ($this->spread as $id) {
            foreach ($this->copiesOf($chats, $writer, $chats->conversationById($id)) as $key => $list) {
                $copies[$key] = [...$copies[$key] ?? [], ...$list];
            }
        }
        $self = $chats->source()->account;
        foreach ($chats->conversations() as $stored) {
            $key = $stored->conversation->key;
            if (in_array($stored->id, $this->spread, true)) {
                continue;
            }
            $added = ConversationKind::Direct === $stored->conversation->kind ? $copies[$key] ?? [] : [];
            if (ConversationKind::NotesToSelf === $stored->conversation->kind) {
                $added = array_map(static fn (Message $m): array => [$m, null], $this->notices);
                $this->notices = [];
            }
            $this->merge($writer, $stored, $chats->messages($stored->id), $added);
            if (ConversationKind::Direct === $stored->conversation->kind) {
                unset($copies[$key]);
            }
        }
        foreach ($copies as $key => $added) {
            $conversation = new Conversation(
                $key, ConversationKind::Direct, null, null, null, false, null, null, 0, null,
                [new Member($key, MemberRole::Member, null, null)],
            );
            $this->merge($writer, new StoredConversation(0, $conversation, Fate::Added, []), [], $added);
        }
        if ([] !== $this->notices) {
            $conversation = new Conversation(
                $self, ConversationKind::NotesToSelf, null, null, null, false, null, null, 0, null, [],
            );
            $this->merge(
                $writer, new StoredConversation(0, $conversation, Fate::Added, []), [],
                array_map(static fn (Message $m): array => [$m, null], $this->notices),
            );
        }
        $chats->close();
        $writer->finish();
    }

    /**
     * Writes a broadcast list as it is and gives a copy of each message for everybody who was on it.
     *
     * @return array<string, list<array{Message, int}>>
     */
    private function copiesOf(ChatStore $chats, StoreWriter $writer, StoredConversation $list): array
    {
        $copies = [];
        $id = $writer->conversation($list->conversation, $list->fate, $list->rules);
        foreach ($chats->messages($list->id) as $stored) {
            $origin = $writer->message($id, $stored->message, $stored->fate, $stored->rules);
            foreach ($list->conversation->members as $member) {
                $theirs = array_values(
                    array_filter(
                        $stored->message->receipts,
                        static fn (Receipt $r): bool => $r->personKey === $member->personKey,
                    ),
                );
                $copies[$member->personKey][] = [$stored->message->with([
                    'receipts' => array_map(
                        fn (Receipt $r): Receipt => $this->route->target->heardTimes ? $r : $r->withoutHeard(), $theirs,
                    ),
                    'effect' => $this->route->target->sendEffects ? $stored->message->effect : null,
                    'quote' => null, 'replyTo' => null,
                ]), $origin];
            }
        }

        return $copies;
    }

    /**
     * @param iterable<StoredMessage>         $messages
     * @param list<array{Message, int|null}> $added
     */
    private function merge(StoreWriter $writer, StoredConversation $stored, iterable $messages, array $added): void
    {
        usort($added, static fn (array $a, array $b): int => $a[0]->sentAt <=> $b[0]->sentAt);
        $conversation = $stored->conversation;
        $fate = $stored->fate;
        if ([] !== $added && !$fate->isWritten()) {
            // A conversation that stays behind itself still takes what is added to it, with nothing of its own.
            $conversation = new Conversation(
                $conversation->key, $conversation->kind, null, null, null, false, null, null, 0, null,
                $conversation->members,
            );
            $fate = Fate::Changed;
        }
        $id = $writer->conversation($conversation, $fate, $stored->rules);
        foreach ($messages as $message) {
            while ([] !== $added && $added[0][0]->sentAt < $message->message->sentAt) {
                [$copy, $origin] = array_shift($added);
                $writer->message($id, $copy, Fate::Added, [], $origin);
            }
            $writer->message($id, $message->message, $message->fate, $message->rules, $message->origin);
        }
        foreach ($added as [$copy, $origin]) {
            $writer->message($id, $copy, Fate::Added, [], $origin);
        }
    }
}
