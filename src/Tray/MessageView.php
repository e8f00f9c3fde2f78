<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Http\Time;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoredMessage;

/** A message as the ledger shows it. Covered, a text is nothing but its length. */
final class MessageView
{
    /** @var array<string, string> names by person key */
    private array $names = [];

    public function __construct(private readonly ChatStore $chats, private readonly bool $uncovered)
    {
    }

    /** @return array<string, mixed> */
    public function of(int $conversationId, StoredMessage $stored): array
    {
        $message = $stored->message;
        $answered = null === $message->replyTo ? null : $this->chats->answered($conversationId, $message->replyTo);
        $text = null === $message->text ? null : mb_scrub($message->text);

        return [
            'id' => $stored->id, 'place' => $stored->place, 'kind' => $message->kind->value, 'sent_at' => Time::ofMilliseconds($message->sentAt), 'odd_time' => $message->sentAt <= 0 || $message->sentAt > (time() + 86_400) * 1000,
            'from_owner' => $message->fromOwner, 'sender' => null === $message->senderKey ? null : $this->name($message->senderKey), 'state' => $message->state->value,
            'length' => null === $text ? 0 : mb_strlen($text), 'text' => $this->uncovered && null !== $text ? mb_substr($text, 0, 4000) : null,
            'notice' => $this->notice($message), 'starred' => $message->starred, 'forwarded' => $message->forwarded,
            'reply' => null === $message->replyTo ? null : ['place' => $answered?->place, 'gone' => null === $answered],
            'reactions' => self::reactions($message), 'unknown_details' => count($message->opaque),
            'attachments' => array_map(fn (Attachment $a): array => [
                'media_type' => $a->mediaType, 'name' => $this->uncovered && null !== $a->shownName ? mb_scrub($a->shownName) : null, 'bytes' => $a->bytes, 'presence' => $a->presence->value,
                'duration_ms' => $a->durationMs, 'preview' => $this->uncovered && null !== $a->preview,
            ], $message->attachments),
        ];
    }

    private function name(string $key): string
    {
        return $this->names[$key] ??= mb_scrub($this->chats->nameOf($key));
    }

    /** @return array{kind: string, actor: string|null, target: string|null, text: string|null}|null */
    private function notice(Message $message): ?array
    {
        $notice = $message->notice;
        if (null === $notice || Kind::Notice !== $message->kind) {
            return null;
        }

        return [
            'kind' => $notice->kind->value, 'actor' => null === $notice->actorKey ? null : $this->name($notice->actorKey), 'target' => null === $notice->targetKey ? null : $this->name($notice->targetKey),
            'text' => $this->uncovered && null !== $notice->text ? mb_scrub($notice->text) : null,
        ];
    }

    /** @return list<array{sign: string, count: int}> */
    private static function reactions(Message $message): array
    {
        $counts = array_count_values(array_map(static fn (Reaction $r): string => mb_scrub($r->sign), $message->reactions));

        return array_map(static fn (string|int $sign): array => ['sign' => (string) $sign, 'count' => $counts[$sign]], array_keys($counts));
    }
}
