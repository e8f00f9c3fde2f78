<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Archive\Backup;
use Geschenk\Core\Progress;

/** What a way in fetches, and where to: a backup that is being made, with the journal that it goes on by. */
final readonly class Fetching
{
    /** @param string $work folder of the backup that is being made */
    public function __construct(
        public Taking $taking,
        private string $work,
        public PullJournal $journal,
        public Progress $progress,
    ) {
    }

    /** The folder for what is kept as it came: names below it are those that the messenger's data folder has. */
    public function raw(): string
    {
        return $this->work.'/'.Backup::RAW;
    }

    /** A file for what has come of one that is not whole yet. */
    public function piece(): string
    {
        return $this->work.'/piece';
    }
}
