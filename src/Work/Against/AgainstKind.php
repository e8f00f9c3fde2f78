<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Against;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\SameAccount;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\HeldAgainst;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfBackup;
use Geschenk\App\Runs\Undone;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Arrival\Between;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Progress;
use Psr\Clock\ClockInterface;

/** Holds a backup against an earlier one of the same account: what went since, what came, what changed. */
final readonly class AgainstKind implements KindOfBackup
{
    public function __construct(
        private Vault $vault,
        private HeldResults $results,
        private SameAccount $same,
        private EntityManagerInterface $entities,
        private Records $records,
        private WorkLocks $locks,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    public static function name(): string
    {
        return 'against';
    }

    public function ensureMayBegin(Backup $backup): void
    {
        self::ensureOpen($backup);
    }

    public function take(Run $run, Asked $asked): void
    {
        $wish = $asked->own;
        if (!$wish instanceof AgainstWish) {
            // It goes on: which one was said before.
            return;
        }
        $earlier = $this->entities->find(Backup::class, $wish->earlier);
        if (null === $earlier || !$this->same->isEarlier($earlier, $run->backup())) {
            throw Refusal::because('not_the_same_account');
        }
        self::ensureOpen($earlier);
        $this->entities->persist(new HeldAgainst($run->id, $run->backup(), $earlier, $this->clock->now()));
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $held = $this->entities->find(HeldAgainst::class, $run->id);
        if (null === $held) {
            // With one of the two it was forgotten.
            throw Refusal::because('erased_already');
        }
        $alone = $held->earlier->tray === $held->backup->tray
            ? null
            : $this->locks->ofErasing($held->earlier->tray->number);
        if (false === $alone?->acquire()) {
            throw OtherInUse::now();
        }
        try {
            $scratch = ScratchFolder::inMemory();
            $outcome = (new Comparison(
                $this->vault->open($held->earlier->id)->chats(), $this->vault->open($held->backup->id)->chats(),
            ))->run($scratch->path.'/outcome.sqlite', $progress);
            $between = new Between($outcome->path);
            $this->results->put($held->id, [
                'totals' => $between->totals(), 'conversations' => $between->conversations(),
            ]);
            $this->records->change(function () use ($run): void {
                $held = $this->entities->find(HeldAgainst::class, $run->id);
                $held?->made($this->clock->now());
                $this->log->noteWithFlush($run->askedBy(), 'held_against', $run->backup()->tray->number, [
                    'edition' => $run->backup()->edition,
                ]);
            });
        } finally {
            $alone?->release();
        }
    }

    /** Nothing is told before all of it is there. */
    public function undo(Run $run): Undone
    {
        return new Undone();
    }

    private static function ensureOpen(Backup $backup): void
    {
        $backup->isKept() ?: throw Refusal::because('erased_already');
        BackupState::Locked !== $backup->state() ?: throw Refusal::because('backup_locked');
    }
}
