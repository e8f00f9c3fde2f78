<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Route;

/** A time so far off that the receiving format's number has no room for its millisecond any more. */
final class FarTime extends Touching
{
    /** A double of seconds holds every multiple of this within Times::LIMIT, and gives the same back. */
    private const STEP_MS = 128_000;
    /** Numbers of fewer digits are near; looking for more costs less than taking a list apart. */
    private const FAR_DIGITS = 16;
    private const KEYS = "'edited_at', 'expires_at', 'closed_at', 'live_until', 'at', 'deleted_at', 'duration_ms'";

    public function name(): string
    {
        return 'far_time';
    }

    public function conversations(Route $route): ?string
    {
        $exact = $route->target->exactTimes;
        if (null === $exact) {
            return null;
        }
        $far = static fn (string $column): string => self::isFar($column, $exact);

        return "({$far('c.created_at')} OR {$far('c.muted_until')} OR EXISTS (SELECT 1 FROM member b
            WHERE b.conversation_id = c.conversation_id AND ({$far('b.joined_at')} OR {$far('b.left_at')})))";
    }

    public function messages(Route $route): ?string
    {
        $exact = $route->target->exactTimes;
        if (null === $exact) {
            return null;
        }
        $far = static fn (string $column): string => self::isFar($column, $exact);
        // Asked once, for nearly every store has none at all.
        $has = "(SELECT 1 FROM about WHERE name = 'far_times') IS NOT NULL";
        $digits = str_repeat('[0-9]', self::FAR_DIGITS);
        $inList = static fn (string $column, string $which = ''): string => "($column GLOB '*$digits*' AND EXISTS (
            SELECT 1 FROM json_tree($column) j WHERE j.type = 'integer' AND {$far('j.atom')} $which))";

        return "$has AND ({$far('m.sent_at')} OR {$far('m.received_at')}
            OR {$inList('m.reactions')} OR {$inList('m.receipts')}
            OR {$inList('m.details', sprintf("AND (j.key IN (%s) OR j.fullkey = '$.quote[4]')", self::KEYS))}
            OR (m.attachments IS NOT NULL AND EXISTS (
                SELECT 1 FROM attachment a WHERE a.message_id = m.message_id AND {$far('a.duration_ms')})))";
    }

    public function changeConversation(Conversation $conversation, Choice $choice): Conversation
    {
        return $conversation->with([
            'createdAt' => self::near($conversation->createdAt), 'mutedUntil' => self::near($conversation->mutedUntil),
            'members' => array_map(
                static fn (Member $m): Member => new Member(
                    $m->personKey, $m->role, self::near($m->joinedAt), self::near($m->leftAt),
                ),
                $conversation->members,
            ),
        ]);
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        $quote = $message->quote;

        return $message->with([
            'sentAt' => self::near($message->sentAt), 'receivedAt' => self::near($message->receivedAt),
            'editedAt' => self::near($message->editedAt), 'expiresAt' => self::near($message->expiresAt),
            'reactions' => array_map(
                static fn (Reaction $r): Reaction => new Reaction($r->personKey, $r->sign, self::near($r->givenAt)),
                $message->reactions,
            ),
            'receipts' => array_map(
                static fn (Receipt $r): Receipt => new Receipt(
                    $r->personKey, self::near($r->deliveredAt), self::near($r->readAt), self::near($r->heardAt),
                ),
                $message->receipts,
            ),
            'quote' => null === $quote
                ? null
                : new Quote(
                    $quote->senderKey, $quote->fromOwner, $quote->kind, $quote->text, self::near($quote->sentAt),
                ),
            'content' => self::content($message->content),
            'attachments' => array_map(
                static fn (Attachment $a): Attachment => $a->lasting(self::near($a->durationMs)), $message->attachments,
            ),
        ]);
    }

    private static function content(?Content $content): ?Content
    {
        return match (true) {
            $content instanceof Place => new Place(
                $content->latitude, $content->longitude, $content->name, $content->address,
                self::near($content->liveUntil),
            ),
            $content instanceof Deletion => new Deletion($content->byKey, self::near($content->deletedAt)),
            $content instanceof Call => new Call($content->video, $content->outcome, self::near($content->durationMs)),
            $content instanceof Poll => new Poll(
                $content->several,
                self::near($content->closedAt),
                array_map(static fn (array $answer): array => [
                    'text' => $answer['text'],
                    'votes' => array_map(
                        static fn (array $vote): array => ['who' => $vote['who'], 'at' => self::near($vote['at'])],
                        $answer['votes'],
                    ),
                ], $content->answers),
            ),
            default => $content,
        };
    }

    private static function isFar(string $column, int $exact): string
    {
        return sprintf('%s NOT BETWEEN -%d AND %d', $column, $exact, $exact);
    }

    /** The nearest earlier step for a time with more digits than a near one has. */
    private static function near(?int $time): ?int
    {
        return null === $time || strlen((string) abs($time)) < self::FAR_DIGITS ? $time : $time - $time % self::STEP_MS;
    }
}
