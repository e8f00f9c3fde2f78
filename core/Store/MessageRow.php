<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Contents;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\ViewOnce;

/**
 * A message as the columns of the chat store, and back. Every column has one form for one meaning, the same whatever
 * format it was read from, so that two messages are the same when their columns are.
 */
final class MessageRow
{
    /** The columns that hold the message itself, in the order of values(); they are what the arrival check compares. */
    public const COLUMNS = [
        'wire_id', 'sender_key', 'from_owner', 'kind', 'body', 'sent_at', 'received_at', 'state', 'marks', 'reply_to',
        'reactions', 'receipts', 'details', 'opaque', 'attachments',
    ];

    /** @return list<int|string|null> */
    public static function values(Message $message): array
    {
        return [
            $message->wireId, $message->senderKey, $message->fromOwner
                ? 1
                : 0, $message->kind->value, $message->text, $message->sentAt, $message->receivedAt,
            $message->state->value,
            ($message->starred ? StoreSchema::MARK_STARRED : 0)
                | ($message->forwarded ? StoreSchema::MARK_FORWARDED : 0), $message->replyTo,
            self::reactionsJson($message->reactions), self::receiptsJson($message->receipts),
            self::details($message), self::opaque($message->opaque), [] === $message->attachments
                ? null
                : self::attachments($message->attachments),
        ];
    }

    /** @param list<Reaction> $reactions */
    public static function reactionsJson(array $reactions): ?string
    {
        return [] === $reactions
            ? null
            : self::sorted(
                array_map(static fn (Reaction $r): array => [$r->personKey, $r->sign, $r->givenAt], $reactions),
            );
    }

    /** @param list<Receipt> $receipts */
    public static function receiptsJson(array $receipts): ?string
    {
        return [] === $receipts
            ? null
            : self::sorted(
                array_map(
                    static fn (Receipt $r): array => [$r->personKey, $r->deliveredAt, $r->readAt, $r->heardAt],
                    $receipts,
                ),
            );
    }

    /**
     * What stays the same when a message travels, used to find its counterpart: the wire id, or, without one, what was
     * said by whom and when.
     */
    public static function identity(Message $message): string
    {
        return null !== $message->wireId && '' !== $message->wireId
            ? $message->wireId
            : 'c:'.hash(
                'xxh128',
                implode(
                    "\0",
                    [
                        $message->sentAt, $message->senderKey ?? '', $message->fromOwner ? '1' : '0',
                        $message->kind->value, $message->text ?? '',
                    ],
                ),
            );
    }

    /**
     * @param list<mixed>      $values      of COLUMNS, as a chat store has them
     * @param list<Attachment> $attachments
     *
     * @throws \TypeError|\ValueError|\UnexpectedValueException when they are not
     */
    public static function message(array $values, array $attachments): Message
    {
        /**
         * @var array{
         *     string|null, string|null, int, string, string|null, int, int|null, string, int, string|null, string|null,
         *     string|null, string|null, string|null,
         * } $values
         */
        [$wireId, $sender, $own, $kind, $text, $sentAt, $receivedAt, $state, $marks] = $values;
        [9 => $replyTo, 10 => $reactions, 11 => $receipts, 12 => $details, 13 => $opaque] = $values;
        $notice = $content = $editedAt = $expiresAt = $viewOnce = $quote = $effect = null;
        $mentions = [];
        if (null !== $details) {
            /**
             * @var array{
             *     notice?: array{string, string|null, string|null, string|null}, content?: array<string, mixed>,
             *     edited_at?: int, expires_at?: int, view_once?: string,
             *     quote?: array{string|null, bool, string, string|null, int|null},
             *     mentions?: list<array{string, int, int}>, effect?: string,
             * } $d
             */
            $d = SafeJson::decode($details);
            $notice = isset($d['notice']) && self::has($d['notice'], 4)
                ? new Notice(NoticeKind::from($d['notice'][0]), $d['notice'][1], $d['notice'][2], $d['notice'][3])
                : null;
            if (isset($d['content'])) {
                $sort = $d['content']['sort'] ?? '';
                $content = Contents::of(is_string($sort) ? $sort : '', $d['content']);
            }
            $editedAt = $d['edited_at'] ?? null;
            $expiresAt = $d['expires_at'] ?? null;
            $viewOnce = isset($d['view_once']) ? ViewOnce::from($d['view_once']) : null;
            $quote = isset($d['quote']) && self::has($d['quote'], 5)
                ? new Quote($d['quote'][0], $d['quote'][1], Kind::from($d['quote'][2]), $d['quote'][3], $d['quote'][4])
                : null;
            $mentions = array_map(static fn (array $m): Mention => self::mention($m), $d['mentions'] ?? []);
            $effect = $d['effect'] ?? null;
        }

        return new Message(
            $wireId, $sender, 0 !== $own, Kind::from($kind), $text, $sentAt, $receivedAt, DeliveryState::from($state),
            0 !== ($marks & StoreSchema::MARK_STARRED), 0 !== ($marks & StoreSchema::MARK_FORWARDED), $replyTo, $notice,
            $attachments,
            null === $reactions ? [] : self::reactions($reactions), null === $receipts ? []
                : self::receipts($receipts), null === $opaque ? [] : SafeJson::map($opaque),
            $content, $editedAt, $expiresAt, $viewOnce, $quote, $mentions, $effect,
        );
    }

    /** @param array{string, int, int} $m */
    private static function mention(array $m): Mention
    {
        self::has($m, 3);

        return new Mention($m[0], $m[1], $m[2]);
    }

    /** @return list<Reaction> */
    private static function reactions(string $json): array
    {
        $list = [];
        /** @var array{string|null, string, int|null} $r */
        foreach (SafeJson::decode($json) as $r) {
            self::has($r, 3);
            $list[] = new Reaction($r[0], $r[1], $r[2]);
        }

        return $list;
    }

    /** @return list<Receipt> */
    private static function receipts(string $json): array
    {
        $list = [];
        /** @var array{string, int|null, int|null, int|null} $r */
        foreach (SafeJson::decode($json) as $r) {
            self::has($r, 4);
            $list[] = new Receipt($r[0], $r[1], $r[2], $r[3]);
        }

        return $list;
    }

    /**
     * Whether a list of a store that came from elsewhere has as many parts as its kind has.
     *
     * @throws \UnexpectedValueException when it has not
     */
    private static function has(mixed $list, int $parts): bool
    {
        return is_array($list) && array_is_list($list) && count($list) === $parts
            ? true
            : throw new \UnexpectedValueException(sprintf('A list has not the %d parts that it should have.', $parts));
    }

    private static function details(Message $message): ?string
    {
        // Most messages have none of it, and this runs for each.
        if (null === $message->notice && null === $message->content && null === $message->editedAt
            && null === $message->expiresAt && null === $message->viewOnce
            && null === $message->quote && [] === $message->mentions && null === $message->effect) {
            return null;
        }

        return SafeJson::encode(array_filter([
            'notice' => $message->notice?->canonical(),
            'content' => null === $message->content
                ? null
                : ['sort' => $message->content->sort(), ...$message->content->toArray()],
            'edited_at' => $message->editedAt,
            'expires_at' => $message->expiresAt,
            'view_once' => $message->viewOnce?->value,
            'quote' => $message->quote?->canonical(),
            'mentions' => [] === $message->mentions ? null : self::mentions($message->mentions),
            'effect' => $message->effect,
        ], static fn (mixed $value): bool => null !== $value));
    }

    /**
     * In the order of the text, whatever order they were found in.
     *
     * @param list<Mention> $mentions
     *
     * @return list<array{string, int, int}>
     */
    private static function mentions(array $mentions): array
    {
        usort(
            $mentions,
            static fn (Mention $a, Mention $b): int => [
                $a->start, $a->length, $a->personKey,
            ] <=> [$b->start, $b->length, $b->personKey],
        );

        return array_map(static fn (Mention $m): array => $m->canonical(), $mentions);
    }

    /** @param array<string, scalar|null> $opaque */
    private static function opaque(array $opaque): ?string
    {
        if ([] === $opaque) {
            return null;
        }
        ksort($opaque, \SORT_STRING);

        return SafeJson::encode($opaque);
    }

    /**
     * A short mark of all that is compared of a message's attachments.
     *
     * @param list<Attachment> $attachments
     */
    public static function attachments(array $attachments): string
    {
        return hash(
            'xxh128', SafeJson::encode(array_map(static fn (Attachment $a): array => $a->canonical(), $attachments)),
        );
    }

    /** @param list<list<scalar|null>> $list */
    private static function sorted(array $list): string
    {
        if (1 === count($list)) {
            return SafeJson::encode($list);
        }
        $parts = array_map(SafeJson::encode(...), $list);
        sort($parts, \SORT_STRING);

        return '['.implode(',', $parts).']';
    }
}
