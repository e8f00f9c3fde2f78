<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\HeldAgainst;
use Geschenk\App\Entity\Run;
use Geschenk\App\Http\Time;

/** The earlier backups that one can be held against, and what came of that. */
final readonly class AgainstView
{
    public function __construct(private RunView $runs)
    {
    }

    /**
     * @param list<Backup>                $earlier
     * @param array<string, HeldAgainst>  $held    the newest that is done, by the earlier one's id
     * @param HeldAgainst|null            $open    of the run that is under way
     * @param Run|null                    $run     that run
     *
     * @return array<string, mixed>
     */
    public function of(Backup $backup, array $earlier, array $held, ?HeldAgainst $open, ?Run $run): array
    {
        $isLocked = static fn (Backup $one): bool => BackupState::Locked === $one->state();

        return [
            'of' => KeptBackupView::of($backup), 'is_locked' => $isLocked($backup),
            'earlier' => array_map(static fn (Backup $one): array => [
                'of' => KeptBackupView::of($one), 'is_locked' => $isLocked($one),
                'made_at' => Time::isoOrNull(($held[$one->id] ?? null)?->madeAt()),
            ], $earlier),
            'run' => null === $run || null === $open ? null : [
                'earlier' => $open->earlier->id, 'run' => $this->runs->of($run, $run->acts()),
            ],
        ];
    }
}
