<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

/**
 * What uniting two sets of chats comes to, before anything is written anywhere.
 *
 * @phpstan-type ConflictRow array{aspect: string, way: string, messages: int}
 * @phpstan-type AroundRow array{aspect: string, way: string, count: int}
 * @phpstan-type FindingRow array{code: string, subject: string, count: int}
 * @phpstan-type MergeArray array{
 *     brought: int, there: int, both: int, settled: int, dropped: int, conversations_brought: int,
 *     conversations_there: int, conversations_both: int, settings: int, used_last: string,
 *     conflicts: list<ConflictRow>, around: list<AroundRow>, lost: int, loss_uncounted: bool,
 *     findings: list<FindingRow>, strangers: int,
 * }
 */
final readonly class MergeReport
{
    public const BROUGHT = 'brought';
    public const THERE = 'there';

    /**
     * @param int               $brought  messages that only the backup has
     * @param int               $there    messages that only the receiving phone has; they stay
     * @param int               $both     messages that both have
     * @param int               $settled  of these, those whose states differ
     * @param int               $dropped  messages of the receiving phone that its own format can't keep any more, such
     *                                    as those whose lifetime is over
     * @param int               $settings conversations of both whose settings differ
     * @param string            $usedLast BROUGHT or THERE: whose settings and stars count
     * @param list<ConflictRow> $conflicts what differs how often, and how it is settled
     * @param list<AroundRow>   $around    the same of settings, members, people and canned answers
     * @param int               $lost      messages of the receiving phone that can't be read: they stay in its safety
     *                                     copy, as they are, and are on the phone no more
     * @param bool              $isLossUncounted whether there are more of them than could be counted
     * @param list<FindingRow>  $findings  what else the reader met on the receiving phone and has no word for
     * @param int               $strangers rooms and people of the backup known by a number alone, which the phone has
     *                                     for somebody else: they come under a name of their own
     */
    public function __construct(
        public int $brought,
        public int $there,
        public int $both,
        public int $settled,
        public int $dropped,
        public int $conversationsBrought,
        public int $conversationsThere,
        public int $conversationsBoth,
        public int $settings,
        public string $usedLast,
        public array $conflicts,
        public array $around = [],
        public int $lost = 0,
        public bool $isLossUncounted = false,
        public array $findings = [],
        public int $strangers = 0,
    ) {
    }

    public function with(string $usedLast, int $strangers): self
    {
        return new self(
            $this->brought, $this->there, $this->both, $this->settled, $this->dropped, $this->conversationsBrought,
            $this->conversationsThere, $this->conversationsBoth, $this->settings, $usedLast, $this->conflicts,
            $this->around, $this->lost, $this->isLossUncounted, $this->findings, $strangers,
        );
    }

    /** @return MergeArray */
    public function toArray(): array
    {
        return [
            'brought' => $this->brought, 'there' => $this->there, 'both' => $this->both, 'settled' => $this->settled,
            'dropped' => $this->dropped, 'conversations_brought' => $this->conversationsBrought,
            'conversations_there' => $this->conversationsThere, 'conversations_both' => $this->conversationsBoth,
            'settings' => $this->settings, 'used_last' => $this->usedLast, 'conflicts' => $this->conflicts,
            'around' => $this->around, 'lost' => $this->lost, 'loss_uncounted' => $this->isLossUncounted,
            'findings' => $this->findings, 'strangers' => $this->strangers,
        ];
    }
}
