<?php

declare(strict_types=1);

namespace Geschenk\App;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Lock\LockInterface;

/**
 * One lock a thing that is worked on. Whoever takes work up and whoever throws something away ask here for the same
 * ones, in this order: run, move or backup, phone. They end with the process that holds them.
 */
final readonly class WorkLocks
{
    public function __construct(private LockFactory $locks)
    {
    }

    public function ofRun(Run $run): LockInterface
    {
        return $this->locks->createLock('run-'.$run->id, null);
    }

    /** All that is made for a move: what is converted and read back, and what its runs have begun. */
    public function ofMove(Move $move): LockInterface
    {
        return $this->locks->createLock('move-'.$move->id(), null);
    }

    /**
     * What keeps others from it while a run is at it: what is erased is read by nobody.
     *
     * @return list<LockInterface>
     */
    public function ofSubject(Move|Backup|Customer|null $subject): array
    {
        return match (true) {
            $subject instanceof Move => [$this->ofMove($subject)],
            $subject instanceof Backup => [$this->ofErasing($subject->tray->number)],
            // What comes of it is nobody's yet, and who they are is forgotten by nobody meanwhile.
            default => [],
        };
    }

    public function ofPhone(string $serial): LockInterface
    {
        return $this->locks->createLock('phone-'.$serial, null);
    }

    /** @param int $tray its number */
    public function ofErasing(int $tray): LockInterface
    {
        return $this->locks->createLock('erase-'.$tray, null);
    }

    /**
     * All of them, or none.
     *
     * @param list<LockInterface> $locks
     */
    public static function acquireAll(array $locks): bool
    {
        foreach ($locks as $place => $lock) {
            if (!$lock->acquire()) {
                self::release(array_slice($locks, 0, $place));

                return false;
            }
        }

        return true;
    }

    /** @param list<LockInterface> $locks */
    public static function release(array $locks): void
    {
        foreach (array_reverse($locks) as $lock) {
            $lock->release();
        }
    }
}
