<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Phone\PhoneLink;

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
     * @param string                                   $tag       the receiving phone's tag
     * @param string                                   $confirmed the tag that the technician typed
     * @param Totals|null                              $rehearsal what the rehearsal found
     * @param array{conversations: int, messages: int} $holds     what was just read from the receiving phone
     * @param string                                   $seen      PhoneLink::mark() from before that was read
     * @param int|null                                 $replaces  messages that somebody agreed to lose there
     * @param string|null                              $copied    mark of the data that a safety copy is complete of
     * @param Unreadable                               $unreadable what of it can't be read
     * @param int|null                                 $agreed    messages of that, as somebody agreed to them
     *
     * @throws RestoreRefused
     */
    public static function grant(
        string $tag,
        string $confirmed,
        ?Totals $rehearsal,
        array $holds,
        string $seen,
        ?int $replaces = null,
        ?string $copied = null,
        Unreadable $unreadable = new Unreadable(),
        ?int $agreed = null,
    ): self {
        self::ensureNamed($tag, $confirmed);
        if (null === $rehearsal || !$rehearsal->complete()) {
            throw RestoreRefused::notRehearsed();
        }
        if ($holds['messages'] > 0 && $holds['messages'] !== $replaces) {
            throw RestoreRefused::holdsChats($holds['conversations'], $holds['messages']);
        }
        $unreadable->ensureAgreed($agreed);
        // Without chats there is nothing to lose; but what was copied has to be what is there.
        $isKept = null === $copied ? 0 === $holds['messages'] : $copied === $seen;
        if (!$isKept) {
            throw RestoreRefused::noSafetyCopy();
        }

        return new self($tag, $seen);
    }

    /**
     * To write what was merged with what the phone holds. Nothing is lost there as long as it holds just that.
     *
     * @param string      $tag       the receiving phone's tag
     * @param string      $confirmed the tag that the technician typed
     * @param Totals|null $rehearsal what the rehearsal found
     * @param string      $seen      PhoneLink::mark() of what is there now
     * @param string      $merged    mark of the data that was merged, and that a safety copy is complete of
     * @param Unreadable  $unreadable what of it can't be read, and so is no part of the merge
     * @param int|null    $agreed    messages of that, as somebody agreed to them
     *
     * @throws RestoreRefused
     */
    public static function toMerge(
        string $tag,
        string $confirmed,
        ?Totals $rehearsal,
        string $seen,
        string $merged,
        Unreadable $unreadable = new Unreadable(),
        ?int $agreed = null,
    ): self {
        self::ensureNamed($tag, $confirmed);
        if (null === $rehearsal || !$rehearsal->complete()) {
            throw RestoreRefused::notRehearsed();
        }
        $unreadable->ensureAgreed($agreed);
        if ($merged !== $seen) {
            throw RestoreRefused::changedSinceMerge();
        }

        return new self($tag, $seen);
    }

    /**
     * To put back what a phone held before.
     *
     * @param string $tag       the receiving phone's tag
     * @param string $confirmed the tag that the technician typed
     * @param string $seen      PhoneLink::mark() of what is there now
     * @param string $copied    mark of the data that a safety copy is complete of: of what is there now
     *
     * @throws RestoreRefused
     */
    public static function toPutBack(string $tag, string $confirmed, string $seen, string $copied): self
    {
        self::ensureNamed($tag, $confirmed);
        if ($copied !== $seen) {
            throw RestoreRefused::noSafetyCopy();
        }

        return new self($tag, $seen);
    }

    /** @throws RestoreRefused */
    private static function ensureNamed(string $tag, string $confirmed): void
    {
        if (mb_strtoupper(trim($confirmed)) !== mb_strtoupper($tag)) {
            throw RestoreRefused::wrongTag($tag);
        }
    }
}
