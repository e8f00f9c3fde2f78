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
     *
     * @throws RestoreRefused
     */
    public static function grant(string $tag, string $confirmed, ?Totals $rehearsal, array $holds, string $seen): self
    {
        if (mb_strtoupper(trim($confirmed)) !== mb_strtoupper($tag)) {
            throw RestoreRefused::wrongTag($tag);
        }
        if (null === $rehearsal || !$rehearsal->complete()) {
            throw RestoreRefused::notRehearsed();
        }
        if ($holds['messages'] > 0) {
            throw RestoreRefused::holdsChats($holds['conversations'], $holds['messages']);
        }

        return new self($tag, $seen);
    }
}
