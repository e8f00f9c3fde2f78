<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

/**
 * The four accounts of the messages that were expected, and what came on top.
 *
 * @phpstan-type TotalsArray array{
 *     conversations: int, messages: int, arrived: int, changed: int, left_out: int, missing: int, extra: int,
 *     settings_differing: int, added: int, added_missing: int, account_differing: int, conversations_extra: int,
 *     kept: int, kept_missing: int, complete: bool,
 * }
 */
final readonly class Totals
{
    /**
     * @param int $added            messages that the conversion made (copies, notices) and that are there
     * @param int $addedMissing     those of them that are not
     * @param int $kept             messages that the phone held before and that are there still
     * @param int $keptMissing      those of them that are not
     * @param int $accountDiffering    what differs of the account itself, its people, labels and canned answers
     * @param int $conversationsExtra conversations that nobody expected and that have no messages
     */
    public function __construct(
        public int $conversations,
        public int $messages,
        public int $arrived,
        public int $changed,
        public int $leftOut,
        public int $missing,
        public int $extra,
        public int $settingsDiffering,
        public int $added,
        public int $addedMissing,
        public int $accountDiffering,
        public int $conversationsExtra,
        public int $kept = 0,
        public int $keptMissing = 0,
    ) {
        if ($arrived + $changed + $leftOut + $missing !== $messages) {
            throw new \LogicException(
                sprintf(
                    'The accounts do not add up: %d + %d + %d + %d is not %d.', $arrived, $changed, $leftOut, $missing,
                    $messages,
                ),
            );
        }
    }

    /** @param TotalsArray $totals as toArray() told them */
    public static function of(array $totals): self
    {
        return new self(
            $totals['conversations'], $totals['messages'], $totals['arrived'], $totals['changed'], $totals['left_out'],
            $totals['missing'], $totals['extra'], $totals['settings_differing'], $totals['added'],
            $totals['added_missing'], $totals['account_differing'], $totals['conversations_extra'],
            $totals['kept'], $totals['kept_missing'],
        );
    }

    /** Whether everything that was meant to arrive is there, and nothing else. */
    /** Whether anything is not there as it was meant: what is too many does not count. */
    public function lacksSomething(): bool
    {
        return 0 < $this->missing + $this->addedMissing + $this->keptMissing
            + $this->settingsDiffering + $this->accountDiffering;
    }

    public function complete(): bool
    {
        return 0 === $this->missing + $this->addedMissing + $this->keptMissing
            && 0 === $this->extra + $this->conversationsExtra
            && 0 === $this->settingsDiffering + $this->accountDiffering;
    }

    /** @return TotalsArray */
    public function toArray(): array
    {
        return [
            'conversations' => $this->conversations, 'messages' => $this->messages, 'arrived' => $this->arrived,
            'changed' => $this->changed, 'left_out' => $this->leftOut,
            'missing' => $this->missing, 'extra' => $this->extra, 'settings_differing' => $this->settingsDiffering,
            'added' => $this->added,
            'added_missing' => $this->addedMissing, 'account_differing' => $this->accountDiffering,
            'conversations_extra' => $this->conversationsExtra, 'kept' => $this->kept,
            'kept_missing' => $this->keptMissing, 'complete' => $this->complete(),
        ];
    }
}
