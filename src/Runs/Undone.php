<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

/** What came of undoing a run. */
final readonly class Undone
{
    /**
     * @param int  $removed     bytes that it had copied and are gone
     * @param bool $leftOnPhone whether the phone was away and still holds some
     * @param bool $isTooLate   whether its work is in place already: then it is brought to its end
     */
    public function __construct(
        public int $removed = 0,
        public bool $leftOnPhone = false,
        public bool $isTooLate = false,
    ) {
    }
}
