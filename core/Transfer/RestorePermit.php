<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Arrival\Totals;

/** The proof that a phone may be written to. There is no other way to get one than to meet the rules of the job. */
final readonly class RestorePermit
{
    private function __construct(
        public string $tag,
        /** of the phone's data when it was looked at: what has changed since may not be overwritten */
        public string $seen,
    ) {
    }

    /**
     * @param Totals|null $rehearsal what the rehearsal found
     *
     * @throws RestoreRefused
     */
    public static function grant(ReceiverSeen $seen, AgreedTo $agreed, ?Totals $rehearsal): self
    {
        self::ensureNamed($agreed);
        self::ensureRehearsed($rehearsal);
        if ($seen->messages > 0 && $seen->messages !== $agreed->replaces) {
            throw RestoreRefused::holdsChats($seen->conversations, $seen->messages);
        }
        $seen->unreadable->ensureAgreed($agreed->unreadable);
        // Without chats there is nothing to lose; but what was copied has to be what is there.
        $isKept = null === $seen->copied ? 0 === $seen->messages : $seen->copied === $seen->mark;
        if (!$isKept) {
            throw RestoreRefused::noSafetyCopy();
        }

        return new self($agreed->tag, $seen->mark);
    }

    /**
     * To write what was merged with what the phone holds. Nothing is lost there as long as it holds just that; what of
     * it can't be read is no part of the merge.
     *
     * @param Totals|null $rehearsal what the rehearsal found
     *
     * @throws RestoreRefused
     */
    public static function toMerge(ReceiverSeen $seen, AgreedTo $agreed, ?Totals $rehearsal): self
    {
        self::ensureNamed($agreed);
        self::ensureRehearsed($rehearsal);
        $seen->unreadable->ensureAgreed($agreed->unreadable);
        if ($seen->copied !== $seen->mark) {
            throw RestoreRefused::changedSinceMerge();
        }

        return new self($agreed->tag, $seen->mark);
    }

    /**
     * To put back what a phone held before.
     *
     * @throws RestoreRefused
     */
    public static function toPutBack(ReceiverSeen $seen, AgreedTo $agreed): self
    {
        self::ensureNamed($agreed);
        if ($seen->copied !== $seen->mark) {
            throw RestoreRefused::noSafetyCopy();
        }

        return new self($agreed->tag, $seen->mark);
    }

    /** @throws RestoreRefused */
    private static function ensureNamed(AgreedTo $agreed): void
    {
        if (mb_strtoupper(trim($agreed->typed)) !== mb_strtoupper($agreed->tag)) {
            throw RestoreRefused::wrongTag($agreed->tag);
        }
    }

    /** @throws RestoreRefused */
    private static function ensureRehearsed(?Totals $rehearsal): void
    {
        if (null === $rehearsal || !$rehearsal->complete()) {
            throw RestoreRefused::notRehearsed();
        }
    }
}
