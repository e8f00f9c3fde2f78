<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

/** One conversation, of which two sides have messages. */
final readonly class Meeting
{
    /**
     * @param string $inBrought  that x is in the conversation
     * @param string $inThere    that y is
     * @param int    $count      messages of the backup, those that stay behind as well
     * @param int    $onlyThere  messages that only the phone has
     * @param bool   $isAllThere whether the phone has all of the backup's that are brought: its own order stays then
     */
    public function __construct(
        public int $id,
        public string $inBrought,
        public string $inThere,
        public int $count,
        public int $onlyThere,
        public bool $isAllThere,
    ) {
    }
}
