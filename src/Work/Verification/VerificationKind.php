<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Verification;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfBackup;
use Geschenk\App\Runs\Undone;
use Geschenk\Core\Progress;

/** Reads a kept backup back once more, on demand: it was whole when it was kept, and disks grow old. */
final readonly class VerificationKind implements KindOfBackup
{
    public function __construct(private ReadBack $readBack)
    {
    }

    public static function name(): string
    {
        return 'verification';
    }

    public function ensureMayBegin(Backup $backup): void
    {
        $backup->isKept() ?: throw Refusal::because('erased_already');
    }

    public function take(Run $run, Asked $asked): void
    {
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $this->readBack->do($run->backup()->id, $progress, true);
    }

    /** It leaves nothing anywhere. */
    public function undo(Run $run): Undone
    {
        return new Undone();
    }
}
