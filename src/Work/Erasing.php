<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Clock\MachineTime;
use Geschenk\App\Clock\ShopClock;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\SeenOver;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Log\LogNames;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\HandOver\Keeping;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Work\Against\HeldResults;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;

/**
 * Erases all that is kept of a tray's chats: backups, safety copies, what was converted, the lines of its checks. The
 * record stays, and says what was erased. First it is stored that it was asked for: whoever is killed in the middle is
 * followed by another who brings it to its end.
 *
 * @phpstan-import-type Erased from Tray
 */
final readonly class Erasing
{
    /** Who has it erased when its time is over. */
    public const RULE = 'shop rule';
    /** Seconds of the machine's own time for which the time of a tray must have been seen to be over. */
    public const OVER_FOR = 7_200;
    /** Seconds after which an erasing that has not come to its end is handed out again. */
    private const AGAIN_AFTER = 60;

    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private DataFolder $data,
        private Vault $vault,
        private RunSheet $sheet,
        private ShopLog $log,
        private LogNames $logNames,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private WorkLocks $locks,
        private ShopClock $shopClock,
        private MachineTime $machine,
        private Keeping $keeping,
        private KeepingDesk $desk,
        private HeldResults $held,
        private MoveFiles $moveFiles,
    ) {
    }

    /**
     * @param string $confirmed the tray's number as it was typed
     *
     * @throws Refusal
     */
    public function ask(int $number, string $confirmed, string $by): void
    {
        $this->records->changeTray($number, function (Tray $tray) use ($confirmed, $by): void {
            if ((string) $tray->number !== trim($confirmed)) {
                throw Refusal::because('wrong_number', ['tray' => $tray->number]);
            }
            $this->begin($tray, $by);
        });
    }

    /**
     * One backup by itself; what else its tray keeps stays.
     *
     * @param string $confirmed the number of the tray that it was made in, as it was typed
     *
     * @throws Refusal
     */
    public function askForBackup(string $id, string $confirmed, string $by): void
    {
        $this->records->change(function () use ($id, $confirmed, $by): void {
            $backup = $this->entities->find(Backup::class, $id) ?? throw Refusal::because('no_such_backup');
            $tray = $backup->tray->number;
            if ((string) $tray !== trim($confirmed)) {
                throw Refusal::because('wrong_number', ['tray' => $tray]);
            }
            $this->beginBackup($backup, $by);
        });
    }

    private function beginBackup(Backup $backup, string $by): void
    {
        $this->keeping->ensureMayEraseBackup($backup);
        $backup->isToBeErased($this->clock->now(), $by);
        $this->desk->end($backup, $by);
        $this->log->noteWithFlush($by, 'erase_backup_asked', $backup->tray->number, ['edition' => $backup->edition]);
        $this->entities->flush();
        $this->bus->dispatch(new EraseBackup($backup->id));
    }

    /** For the watch: trays whose time is over by a clock that can be gone by, and what was begun and never ended. */
    public function due(): void
    {
        $now = $this->clock->now();
        if ($this->shopClock->isTrusted()) {
            $this->dueByTime($now);
        }
        $left = 'SELECT t FROM '.Tray::class.' t WHERE t.erasedAt IS NULL AND t.eraseAskedAt <= :now';
        $before = $now->modify(sprintf('-%d seconds', self::AGAIN_AFTER));
        foreach ($this->trays($left, $before) as $number) {
            $this->bus->dispatch(new EraseTray($number));
        }
        $left = 'SELECT b.id FROM '.Backup::class.' b JOIN b.tray t WHERE b.erasedAt IS NULL '
            .'AND b.eraseAskedAt <= :before AND (t.eraseAskedAt IS NULL OR t.erasedAt IS NOT NULL)';
        /** @var list<string> $ids */
        $ids = $this->entities->createQuery($left)->setParameter('before', $before)->getSingleColumnResult();
        foreach ($ids as $id) {
            $this->bus->dispatch(new EraseBackup($id));
        }
    }

    private function dueByTime(\DateTimeImmutable $now): void
    {
        $over = 'SELECT t FROM '.Tray::class.' t WHERE t.keepUntil <= :now AND t.closedAt IS NOT NULL '
            .'AND t.erasedAt IS NULL AND t.eraseAskedAt IS NULL';
        foreach ($this->trays($over, $now) as $number) {
            try {
                $this->records->changeTray($number, function (Tray $tray): void {
                    if ($this->isOver($tray->over())) {
                        $this->begin($tray, self::RULE);
                    }
                });
            } catch (Refusal) {
                // Something is put back at this moment, or brought by another tray: it waits for that.
            }
        }
        $over = 'SELECT b.id FROM '.Backup::class.' b JOIN b.tray t WHERE b.keepUntil <= :now '
            .'AND b.eraseAskedAt IS NULL AND t.closedAt IS NOT NULL';
        /** @var list<string> $ids */
        $ids = $this->entities->createQuery($over)->setParameter('now', $now)->getSingleColumnResult();
        foreach ($ids as $id) {
            try {
                $this->records->change(function () use ($id): void {
                    $backup = $this->backup($id);
                    if ($this->isOver($backup->over())) {
                        $this->beginBackup($backup, self::RULE);
                    }
                });
            } catch (Refusal) {
                // As above.
            }
        }
        foreach ([Tray::class, Backup::class] as $kept) {
            $early = "UPDATE $kept k SET k.over.boot = NULL WHERE k.keepUntil > :now";
            $this->entities->createQuery($early)->setParameter('now', $now)->execute();
        }
    }

    private function isOver(SeenOver $over): bool
    {
        return $over->sinceFirst($this->machine->boot(), $this->machine->uptime()) >= self::OVER_FOR;
    }

    /**
     * Removes the files, sees that none of them is there any more, and stores that.
     *
     * @throws DiskFailure when something can't be removed: it is tried again
     */
    public function do(int $number): void
    {
        $this->entities->clear();
        $tray = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number]);
        if (null === $tray) {
            return;
        }
        // A worker that was told to rest may be at its last step still: it is tried again in a minute.
        $locks = [$this->locks->ofErasing($number), ...array_map($this->locks->ofMove(...), $tray->allMoves())];
        if (!WorkLocks::acquireAll($locks)) {
            return;
        }
        try {
            $this->entities->clear();
            $tray = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number]);
            // What is being undone has to be over; it is tried again in a minute.
            if (null === $tray?->eraseAskedAt() || null !== $tray->erasedAt() || $tray->isBusy()) {
                return;
            }
            // Listed once: whoever goes on after a kill would count what is gone as nothing.
            $erased = $tray->whatWasErased() ?? $this->listed($tray);
            $this->records->changeTray($number, static fn (Tray $tray) => $tray->erases($erased));
            $this->forgetHeld($number);
            $this->remove($erased, $tray);
            $this->records->changeTray($number, function (Tray $tray) use ($erased): void {
                if (null !== $tray->erasedAt()) {
                    return;
                }
                $tray->erased($this->clock->now());
                foreach ($this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]) as $backup) {
                    BackupState::Erasing !== $backup->state() ?: $this->isErased($backup);
                }
                $this->logNames->erase($tray->number);
                foreach ($tray->allMoves() as $move) {
                    array_map(static fn (Bringing $bringing) => $bringing->forgetWithWhom(), $move->bringings());
                }
                $by = $tray->eraseBy();
                $counts = [
                    'backups' => count($erased['folders']), 'files' => array_sum(array_column(
                        $erased['folders'], 'files',
                    )), 'size_bytes' => array_sum(array_column($erased['folders'], 'bytes')),
                ];
                $this->sheet->note($tray, Stage::HandOver, $by, 'erased', $counts);
                $this->log->noteWithFlush($by, 'erased', $tray->number, $counts);
            });
        } finally {
            WorkLocks::release($locks);
        }
    }

    /**
     * The same with one backup.
     *
     * @throws DiskFailure when something can't be removed: it is tried again
     */
    public function doBackup(string $id): void
    {
        $this->entities->clear();
        $backup = $this->entities->find(Backup::class, $id);
        if (null === $backup) {
            return;
        }
        $number = $backup->tray->number;
        $moves = array_map($this->locks->ofMove(...), $backup->tray->allMoves());
        $locks = [$this->locks->ofErasing($number), ...$moves];
        if (!WorkLocks::acquireAll($locks)) {
            return;
        }
        try {
            $this->entities->clear();
            $backup = $this->entities->find(Backup::class, $id);
            if (BackupState::Erasing !== $backup?->state()) {
                return;
            }
            [$files, $bytes] = self::count($this->vault->places($id));
            $gone = $backup->gone() ?? ['files' => $files, 'bytes' => $bytes];
            $this->records->change(fn () => $this->backup($id)->erases($gone));
            $this->held->forget($this->backup($id));
            $this->vault->discard($id);
            $this->vault->sync();
            $this->records->changeTray($number, function (Tray $tray) use ($id, $gone): void {
                $backup = $this->backup($id);
                if (BackupState::Erasing !== $backup->state()) {
                    return;
                }
                $this->isErased($backup);
                // Looked into since the rest was erased.
                null === $tray->erasedAt() ?: $this->logNames->erase($tray->number);
                $counts = [
                    'edition' => $backup->edition, 'taken_at' => $backup->takenAt->getTimestamp(),
                    'files' => $gone['files'], 'size_bytes' => $gone['bytes'],
                ];
                $by = $backup->eraseBy();
                $this->sheet->note($tray, Stage::HandOver, $by, 'backup_erased', $counts);
                $this->log->noteWithFlush($by, 'backup_erased', $tray->number, $counts);
            });
        } finally {
            WorkLocks::release($locks);
        }
    }

    /** What its backups were held against tells of them. */
    private function forgetHeld(int $number): void
    {
        $dql = 'SELECT b FROM '.Backup::class.' b JOIN b.tray t '
            .'WHERE t.number = :number AND b.eraseAskedAt IS NOT NULL';
        /** @var list<Backup> $backups */
        $backups = $this->entities->createQuery($dql)->setParameter('number', $number)->getResult();
        foreach ($backups as $backup) {
            $this->held->forget($backup);
        }
    }

    private function isErased(Backup $backup): void
    {
        $backup->erased($this->clock->now());
        foreach ($this->entities->getRepository(ReadingCopy::class)->findBy(['backup' => $backup]) as $copy) {
            $copy->forgetWithWhom();
        }
        $this->entities->getRepository(Import::class)->findOneBy(['backup' => $backup])?->forgetsNames();
    }

    private function backup(string $id): Backup
    {
        return $this->entities->find(Backup::class, $id) ?? throw new \LogicException('Its record stays.');
    }

    private function begin(Tray $tray, string $by): void
    {
        $this->keeping->ensureMayErase($tray);
        $this->askFor($tray, $by);
    }

    /**
     * In the caller's transaction: what is under way comes to its end first. The rule leaves what is kept longer.
     *
     * @throws Refusal while another tray brings what would go
     */
    public function askFor(Tray $tray, string $by): void
    {
        $this->keeping->ensureNobodyBrings($tray);
        $now = $this->clock->now();
        $tray->askToErase($now, $by);
        foreach ($this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]) as $backup) {
            if (self::RULE === $by && $backup->hasItsOwnDay() && $backup->keptUntil() > $now) {
                continue;
            }
            $backup->isToBeErased($this->clock->now(), $by);
            $this->desk->end($backup, $by);
        }
        $this->log->noteWithFlush($by, 'erase_asked', $tray->number, []);
        $this->entities->flush();
        $this->bus->dispatch(new EraseTray($tray->number));
    }

    /** @return Erased */
    private function listed(Tray $tray): array
    {
        $folders = $kept = [];
        foreach ($this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]) as $backup) {
            !$backup->isKept() ?: $kept[$backup->id] = true;
            if (BackupState::Erasing === $backup->state()) {
                $folders[$backup->id] = $backup->isSafetyCopy() ? 'safety_copy' : 'backup';
            }
        }
        $dql = 'SELECT r FROM '.Run::class.' r JOIN r.move m WHERE m.tray = :tray';
        /** @var list<Run> $runs */
        $runs = $this->entities->createQuery($dql)->setParameter('tray', $tray)->getResult();
        foreach ($runs as $run) {
            // Of runs that never came to their end.
            $folders += [$run->id => 'begun', $run->safetyCopyId() => 'begun'];
        }
        // Whatever has begun it: what somebody keeps longer is not touched.
        $folders = array_diff_key($folders, $kept);
        $erased = [];
        foreach ($folders as $id => $kind) {
            [$files, $bytes] = self::count($this->vault->places((string) $id));
            // What has no files is listed too where its folder is there: only what is listed is removed.
            if ('begun' !== $kind || [] !== array_filter($this->vault->places((string) $id), is_dir(...))) {
                $erased[] = ['id' => (string) $id, 'kind' => $kind, 'files' => $files, 'bytes' => $bytes];
            }
        }
        [$files, $bytes] = self::count([$this->data->tray($tray->number)]);
        $erased[] = ['id' => (string) $tray->number, 'kind' => 'work', 'files' => $files, 'bytes' => $bytes];

        return ['folders' => $erased];
    }

    /**
     * @param Erased $erased
     *
     * @throws DiskFailure when something can't be removed
     */
    private function remove(array $erased, Tray $tray): void
    {
        array_map($this->moveFiles->destroyAll(...), $tray->allMoves());
        foreach ($erased['folders'] as $one) {
            'work' === $one['kind']
                ? Folder::discard($this->data->tray($tray->number))
                : $this->vault->discard($one['id']);
        }
        // Done means on the disk: the names are gone from it, too.
        $this->vault->sync();
        Disk::sync(dirname($this->data->tray($tray->number)));
    }

    /**
     * @param list<string> $folders
     *
     * @return array{int, int} files and their bytes
     */
    private static function count(array $folders): array
    {
        $files = $bytes = 0;
        foreach (array_filter($folders, is_dir(...)) as $folder) {
            foreach (Folder::files($folder) as $path) {
                ++$files;
                $bytes += (int) @filesize($folder.'/'.$path);
            }
        }

        return [$files, $bytes];
    }

    /** @return list<int> numbers */
    private function trays(string $dql, \DateTimeImmutable $now): array
    {
        /** @var list<Tray> $trays */
        $trays = $this->entities->createQuery($dql)->setParameter('now', $now)->getResult();

        return array_map(static fn (Tray $tray): int => $tray->number, $trays);
    }
}
