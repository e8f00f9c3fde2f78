<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Progress;

/** What a way in fetches, and where to: a backup that is being made, with the journal that it goes on by. */
final readonly class Fetching
{
    public function __construct(
        public Taking $taking,
        public Workplace $place,
        public PullJournal $journal,
        public Progress $progress,
    ) {
    }
}
