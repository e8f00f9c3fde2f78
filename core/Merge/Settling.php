<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\ViewOnce;
use Geschenk\Core\Store\MessageRow;

/**
 * One message that two phones hold in different states: what is later in itself wins (a deletion, a later edit, a
 * message that was read); what carries no time is taken from the phone that was used last; what only one has is kept.
 * Settling twice changes nothing, and which of the two phones gives makes no difference.
 */
final class Settling
{
    /** In the order in which a message goes through them; those of others come after the owner's own. */
    private const STATES = [
        DeliveryState::Unknown, DeliveryState::Failed, DeliveryState::Waiting, DeliveryState::Sent,
        DeliveryState::Delivered, DeliveryState::Read, DeliveryState::Received, DeliveryState::Seen,
    ];

    /** @param Message $newer of the phone that was used last */
    public static function message(Message $older, Message $newer): Message
    {
        [$winner, $other] = self::content($older, $newer);
        $isDeleted = Kind::Deleted === $winner->kind;

        return $winner->with([
            'content' => $winner->content instanceof Poll && $other->content instanceof Poll
                ? self::poll($older, $newer) ?? $winner->content
                : $winner->content,
            'attachments' => $isDeleted ? $winner->attachments : self::attachments($winner, $other),
            'state' => self::state($older->state, $newer->state),
            'starred' => $newer->starred, 'forwarded' => $older->forwarded || $newer->forwarded,
            'receivedAt' => self::earliest($older->receivedAt, $newer->receivedAt),
            'replyTo' => $winner->replyTo ?? $other->replyTo, 'quote' => $winner->quote ?? $other->quote,
            'reactions' => self::reactions($older->reactions, $newer->reactions),
            'receipts' => self::receipts($older->receipts, $newer->receipts),
            'expiresAt' => $winner->expiresAt ?? $other->expiresAt, 'viewOnce' => self::viewOnce($older, $newer),
            'opaque' => $newer->opaque + $older->opaque,
        ]);
    }

    /**
     * What differs between the two, and how it is settled.
     *
     * @return array<string, string> word of the way by word of the aspect
     */
    public static function differences(Message $older, Message $newer): array
    {
        $ways = [];
        if ((Kind::Deleted === $older->kind) !== (Kind::Deleted === $newer->kind)) {
            $ways['deletion'] = 'deletion';
        } elseif ([$older->text, $older->editedAt] !== [$newer->text, $newer->editedAt]) {
            $ways['text'] = $older->editedAt === $newer->editedAt ? 'used_last' : 'later';
        }
        if ($older->state !== $newer->state) {
            $ways['state'] = 'furthest';
        }
        if ($older->starred !== $newer->starred) {
            $ways['star'] = 'used_last';
        }
        if (MessageRow::reactionsJson($older->reactions) !== MessageRow::reactionsJson($newer->reactions)) {
            $ways['reactions'] = 'both';
        }
        if (MessageRow::receiptsJson($older->receipts) !== MessageRow::receiptsJson($newer->receipts)) {
            $ways['receipts'] = 'both';
        }
        if (MessageRow::attachments($older->attachments) !== MessageRow::attachments($newer->attachments)
            && !isset($ways['deletion'])) {
            $ways['attachments'] = 'the_file';
        }
        if ($older->content instanceof Poll && $newer->content instanceof Poll
            && $older->content->toArray() !== $newer->content->toArray()) {
            $ways['votes'] = 'both';
        }

        return [] === $ways ? ['detail' => 'used_last'] : $ways;
    }

    /** @return array{Message, Message} whose words count, and the other */
    private static function content(Message $older, Message $newer): array
    {
        if ((Kind::Deleted === $older->kind) !== (Kind::Deleted === $newer->kind)) {
            return Kind::Deleted === $older->kind ? [$older, $newer] : [$newer, $older];
        }
        if ((Kind::Unknown === $older->kind) !== (Kind::Unknown === $newer->kind)) {
            return Kind::Unknown === $older->kind ? [$newer, $older] : [$older, $newer];
        }
        // Never edited comes before any edit; times before 1970 exist.
        $isOlderLater = null !== $older->editedAt && (null === $newer->editedAt || $older->editedAt > $newer->editedAt);

        return $isOlderLater ? [$older, $newer] : [$newer, $older];
    }

    private static function state(DeliveryState $older, DeliveryState $newer): DeliveryState
    {
        $place = static fn (DeliveryState $s): int => (int) array_search($s, self::STATES, true);

        return $place($older) > $place($newer) ? $older : $newer;
    }

    private static function earliest(?int $one, ?int $other): ?int
    {
        return null === $one || null === $other ? $one ?? $other : min($one, $other);
    }

    private static function viewOnce(Message $older, Message $newer): ?ViewOnce
    {
        return in_array(ViewOnce::Opened, [$older->viewOnce, $newer->viewOnce], true)
            ? ViewOnce::Opened
            : $newer->viewOnce ?? $older->viewOnce;
    }

    /**
     * Each person's as they gave them last.
     *
     * @param list<Reaction> $older
     * @param list<Reaction> $newer
     *
     * @return list<Reaction>
     */
    private static function reactions(array $older, array $newer): array
    {
        $by = static function (array $reactions): array {
            $all = [];
            /** @var list<Reaction> $reactions */
            foreach ($reactions as $reaction) {
                $all[null === $reaction->personKey ? '' : 'p'.$reaction->personKey][] = $reaction;
            }

            return $all;
        };
        /** @var array<string, non-empty-list<Reaction>> $there */
        $there = $by($newer);
        /** @var array<string, non-empty-list<Reaction>> $here */
        $here = $by($older);
        $last = static fn (array $list): int => max(array_map(
            static fn (mixed $r): int => $r instanceof Reaction ? $r->givenAt ?? \PHP_INT_MIN : \PHP_INT_MIN, $list,
        ) ?: [\PHP_INT_MIN]);
        $settled = [];
        foreach ($there + $here as $who => $_) {
            $isOlderLater = $last($here[$who] ?? []) > $last($there[$who] ?? []);
            array_push($settled, ...($isOlderLater ? $here[$who] ?? [] : $there[$who] ?? $here[$who] ?? []));
        }

        return $settled;
    }

    /**
     * Each moment as it was noted first.
     *
     * @param list<Receipt> $older
     * @param list<Receipt> $newer
     *
     * @return list<Receipt>
     */
    private static function receipts(array $older, array $newer): array
    {
        $settled = [];
        foreach ([...$newer, ...$older] as $receipt) {
            $there = $settled['p'.$receipt->personKey] ?? $receipt;
            $settled['p'.$receipt->personKey] = new Receipt(
                $receipt->personKey, self::earliest($there->deliveredAt, $receipt->deliveredAt),
                self::earliest($there->readAt, $receipt->readAt), self::earliest($there->heardAt, $receipt->heardAt),
            );
        }

        return array_values($settled);
    }

    /**
     * The files of the message that counts, and where it lacks one the other's.
     *
     * @return list<Attachment>
     */
    private static function attachments(Message $winner, Message $other): array
    {
        if (count($winner->attachments) !== count($other->attachments)) {
            $has = static fn (Message $m): int => count(array_filter(
                $m->attachments, static fn (Attachment $a): bool => $a->presence->hasBytes(),
            ));

            return $has($other) > $has($winner) ? $other->attachments : $winner->attachments;
        }

        return array_map(
            static fn (Attachment $one, Attachment $two): Attachment => !$one->presence->hasBytes()
                && $two->presence->hasBytes() ? $two : $one,
            $winner->attachments, $other->attachments,
        );
    }

    /**
     * The votes of both: a person's all where several are allowed, else as they gave them last. Null where the answers
     * differ.
     */
    private static function poll(Message $older, Message $newer): ?Poll
    {
        [$here, $there] = [$older->content, $newer->content];
        if (!$here instanceof Poll || !$there instanceof Poll
            || array_column($here->answers, 'text') !== array_column($there->answers, 'text')) {
            return null;
        }
        [$before, $after] = [self::votes($here), self::votes($there)];
        $last = static fn (array $votes): int => max(array_map(
            static fn (mixed $at): int => is_int($at) ? $at : \PHP_INT_MIN, $votes,
        ) ?: [\PHP_INT_MIN]);
        $settled = $after;
        foreach ($before as $who => $votes) {
            $settled[$who] = match (true) {
                !isset($after[$who]) => $votes,
                $there->several => self::latest($votes, $after[$who]),
                $last($votes) > $last($after[$who]) => $votes,
                default => $after[$who],
            };
        }
        $answers = [];
        foreach ($there->answers as $answer => $told) {
            $own = [];
            foreach ($settled as $who => $votes) {
                if (array_key_exists($answer, $votes)) {
                    $own[] = ['who' => '' === $who ? null : substr($who, 1), 'at' => $votes[$answer]];
                }
            }
            $answers[] = ['text' => $told['text'], 'votes' => $own];
        }

        return new Poll($there->several, $there->closedAt ?? $here->closedAt, $answers);
    }

    /** @return array<string, array<int, int|null>> when each answer was chosen, by who did */
    private static function votes(Poll $poll): array
    {
        $votes = [];
        foreach ($poll->answers as $answer => $told) {
            foreach ($told['votes'] as $vote) {
                $votes[null === $vote['who'] ? '' : 'p'.$vote['who']][$answer] = $vote['at'];
            }
        }

        return $votes;
    }

    /**
     * @param array<int, int|null> $one
     * @param array<int, int|null> $other
     *
     * @return array<int, int|null> all of both, each as it was given last
     */
    private static function latest(array $one, array $other): array
    {
        foreach ($one as $answer => $at) {
            $there = $other[$answer] ?? null;
            $other[$answer] = null === $there || null === $at ? $there ?? $at : max($there, $at);
        }

        return $other;
    }
}
