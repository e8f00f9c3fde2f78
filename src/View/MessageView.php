<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Http\Time;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
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
    private const LINES = 100;
    private const SIGN = 64;

    public function __construct(private readonly ChatStore $chats, private readonly bool $uncovered)
    {
    }

    /** @return array<string, mixed> */
    public function of(int $conversationId, StoredMessage $stored): array
    {
        $message = $stored->message;
        $answered = null === $message->replyTo
            ? null
            : $this->chats->placeOfAnswered($conversationId, $message->replyTo);
        $isHere = null !== $answered && $this->isIn($conversationId, $answered['id']);
        $text = null === $message->text ? null : mb_scrub($message->text);

        return [
            'id' => $stored->id, 'place' => $stored->place, 'kind' => $message->kind->value,
            'sent_at' => Time::ofMilliseconds($message->sentAt),
            'odd_time' => $message->sentAt <= 0 || $message->sentAt > (time() + 86_400) * 1000,
            'from_owner' => $message->fromOwner, 'sender' => null === $message->senderKey
                ? null
                : $this->name($message->senderKey), 'state' => $message->state->value,
            'length' => null === $text ? 0 : mb_strlen($text) + max(
                0, $stored->textBytes - strlen($message->text ?? ''),
            ), 'text' => $this->uncovered && null !== $text ? mb_substr($text, 0, 4000) : null,
            'notice' => $this->notice($message), 'starred' => $message->starred, 'forwarded' => $message->forwarded,
            'reply' => null === $message->replyTo ? null : [
                'place' => $isHere ? $answered['place'] : null, 'gone' => null === $answered,
                'elsewhere' => null !== $answered && !$isHere,
                'sent_at' => $isHere ? Time::ofMilliseconds($answered['sent_at']) : null,
            ],
            'edited_at' => Time::ofMilliseconds($message->editedAt), 'expires_at' => Time::ofMilliseconds(
                $message->expiresAt,
            ), 'view_once' => $message->viewOnce?->value,
            'mentions' => count($message->mentions), 'effect' => null !== $message->effect,
            'content' => null === $message->content
                ? null
                : $this->content($message->content),
            'reactions' => $this->reactions($message), 'unknown_details' => count($message->opaque),
            'attachments' => array_map(fn (Attachment $a): array => [
                'media_type' => self::short($a->mediaType), 'name' => $this->uncovered && null !== $a->shownName
                    ? self::short($a->shownName)
                    : null, 'bytes' => $a->bytes, 'presence' => $a->presence->value,
                'duration_ms' => $a->durationMs, 'is_motion' => $a->isMotion, 'preview' => $this->uncovered
                    && null !== $a->preview,
            ], $message->attachments),
        ];
    }

    private function isIn(int $conversationId, int $messageId): bool
    {
        [$first, $count] = $this->chats->range($conversationId);

        return $messageId >= $first && $messageId < $first + $count;
    }

    /**
     * What a message holds besides text and files. Covered, nothing is told but numbers.
     *
     * @return array{
     *     sort: string, title: string|null, lines: list<string>, count: int|null, outcome: string|null,
     *     duration_ms: int|null,
     * }
     */
    private function content(Content $content): array
    {
        $title = null;
        $lines = [];
        $count = null;
        if ($content instanceof Place) {
            $title = $content->name ?? sprintf('%.5f, %.5f', $content->latitude, $content->longitude);
            $lines = array_values(array_filter([$content->address], is_string(...)));
        } elseif ($content instanceof ContactCards) {
            $count = count($content->cards);
            $lines = array_map(static fn (array $card): string => $card['name'] ?? '–', $content->cards);
        } elseif ($content instanceof Poll) {
            $count = array_sum(array_map(static fn (array $answer): int => count($answer['votes']), $content->answers));
            $lines = array_map(
                static fn (array $answer): string => sprintf('%s (%d)', $answer['text'], count($answer['votes'])),
                $content->answers,
            );
        } elseif ($content instanceof LinkPreview) {
            $title = $content->title ?? $content->url;
            $lines = [$content->url];
        } elseif ($content instanceof CatalogueItem) {
            $title = $content->name;
            $lines = null === $content->priceMinor
                ? []
                : [sprintf('%.2f %s', $content->priceMinor / 100, $content->currency ?? '')];
        }

        return [
            'sort' => $content->sort(), 'title' => $this->uncovered && null !== $title ? self::short($title)
                : null, 'lines' => $this->uncovered
                    ? array_map(self::short(...), array_slice($lines, 0, self::LINES))
                    : [], 'count' => $count,
            'outcome' => $content instanceof Call ? $content->outcome->value
                : null, 'duration_ms' => $content instanceof Call ? $content->durationMs : null,
        ];
    }

    private function name(string $key): string
    {
        return $this->names[$key] ??= self::short($this->chats->nameOf($key));
    }

    /** @return array{kind: string, actor: string|null, target: string|null, text: string|null}|null */
    private function notice(Message $message): ?array
    {
        $notice = $message->notice;
        if (null === $notice || Kind::Notice !== $message->kind) {
            return null;
        }

        return [
            'kind' => $notice->kind->value, 'actor' => null === $notice->actorKey ? null
                : $this->name($notice->actorKey), 'target' => null === $notice->targetKey
                    ? null
                    : $this->name($notice->targetKey),
            'text' => $this->uncovered && null !== $notice->text ? self::short($notice->text) : null,
        ];
    }

    /**
     * @return list<array{
     *     sign: string, count: int,
     * }> covered, a sign says nothing but that there is one: it may be any text
     */
    private function reactions(Message $message): array
    {
        $counts = array_count_values(
            array_map(
                fn (Reaction $r): string => $this->uncovered ? self::short($r->sign, self::SIGN) : '',
                $message->reactions,
            ),
        );

        return array_map(
            static fn (string|int $sign): array => ['sign' => (string) $sign, 'count' => $counts[$sign]],
            array_keys($counts),
        );
    }

    /** What a phone brought may be of any length and hold any bytes. */
    private static function short(string $text, int $bytes = 400): string
    {
        return mb_scrub(mb_strcut(mb_scrub(substr($text, 0, $bytes + 4)), 0, $bytes));
    }
}
