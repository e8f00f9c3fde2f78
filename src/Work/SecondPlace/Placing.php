<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\RecordsCopy;
use Geschenk\App\Work\StopsAlone;
use Geschenk\App\Work\Verification\ReadBack;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\SecondPlace\Place;
use Geschenk\Core\SecondPlace\PlaceCopies;
use Geschenk\Core\SecondPlace\PlacedKeyring;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Psr\Clock\ClockInterface;

/** The steps of PlacingKind: each is stored when it is done, and done already for whoever comes again. */
final readonly class Placing
{
    /** What of the records' folder has to be there for a shop to begin with. */
    private const KIND = 'kind';

    public function __construct(
        private PlacePlan $plan,
        private OurPlace $ours,
        private SealedVault $vault,
        private Keyring $keys,
        private ReadBack $readBack,
        private Records $records,
        private RecordsCopy $recordsCopy,
        private EntityManagerInterface $entities,
        private DataFolder $data,
        private WorkLocks $locks,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    /**
     * Removes what was erased here.
     *
     * @return int copies
     *
     * @throws PlaceFailure
     */
    public function removeGone(Place $place, Progress $progress, Progress $quiet): int
    {
        $names = $this->plan->gone();
        [] === $names ?: $progress->phase('unplacing', count($names));
        foreach ($names as $name) {
            // Its key first, where it has one of its own: what is left of it opens nothing.
            null === OurPlace::trayOf($name) ?: $this->keys->destroy(OurPlace::keyOf($name));
            (new PlaceCopies($place))->remove($name);
            $this->records->change(function () use ($name): void {
                $copy = $this->entities->find(PlacedCopy::class, $name);
                $backup = $copy?->backup();
                if (null === $copy || null === $backup) {
                    null === $copy ?: $this->entities->remove($copy);

                    return;
                }
                $copy->isGone($this->clock->now());
                $this->log->noteWithFlush('bench', 'place_erased', $backup->tray->number, [
                    'edition' => $backup->edition,
                ]);
            });
            $quiet->advance(1);
        }

        return count($names);
    }

    /**
     * The keyring as it is now; the one from before goes. But where that has the key of something that is kept, and the
     * shop's own has not: then it was not destroyed, but lost here.
     *
     * @throws PlaceFailure
     */
    public function putKeys(Place $place): void
    {
        $ring = new PlacedKeyring($place);
        $here = $this->keys->asItLies();
        $lost = array_diff($ring->isThere() ? Keyring::idsIn($ring->get()) : [], Keyring::idsIn($here));
        if ([] !== $lost) {
            $dql = 'SELECT COUNT(b) FROM '.Backup::class.' b WHERE b.eraseAskedAt IS NULL AND b.id IN (:lost)';
            $kept = (int) $this->entities->createQuery($dql)->setParameter('lost', array_values($lost))
                ->getSingleScalarResult();
            0 === $kept ?: throw PlaceFailure::hasKeys($place->label(), $kept);
        }
        $ring->put($here);
    }

    /** @return int backups that were broken here and are whole again */
    public function mend(Progress $quiet): int
    {
        $mended = 0;
        foreach ($this->plan->broken() as $id) {
            $this->alone($id, function () use ($id, $quiet, &$mended): void {
                $this->readBack->do($id, new StopsAlone($quiet), false);
                $mended += null === $this->entities->find(Backup::class, $id)?->trouble() ? 1 : 0;
            });
        }

        return $mended;
    }

    /**
     * Puts backups and trays there that are new, or lie otherwise than they did.
     *
     * @return int copies
     *
     * @throws PlaceFailure
     */
    public function putWhatChanged(Place $place, Progress $progress, Progress $quiet): int
    {
        $backups = $this->plan->backups();
        $trays = $this->plan->trays();
        $this->tellHowMuch($backups, $trays, $progress);
        $placed = 0;
        foreach ($backups as $id) {
            $this->alone($id, function () use ($place, $id, $quiet, &$placed): void {
                $placed += $this->putBackup($place, $id, $quiet) ? 1 : 0;
            });
        }
        foreach ($trays as $number) {
            $placed += $this->putTray($place, $number, $quiet) ? 1 : 0;
        }

        return $placed;
    }

    /**
     * The records as they are at this moment; with them, the keyring and the copies a shop begins anew elsewhere.
     *
     * @throws PlaceFailure
     */
    public function putRecords(Place $place, Progress $quiet): void
    {
        $scratch = ScratchFolder::make();
        $folder = Folder::make($scratch->path.'/records');
        $this->recordsCopy->make($folder.'/'.basename($this->data->records()));
        $kind = $this->data->path.'/'.self::KIND;
        Disk::put($folder.'/'.self::KIND, is_file($kind) ? Disk::contents($kind) : "shop\n");
        $state = Disk::sha256($folder.'/'.basename($this->data->records()));
        $this->put(
            $place, new ToPlace(OurPlace::RECORDS, $folder, $state, static fn (): bool => true), new StopsAlone($quiet),
        );
    }

    /**
     * Reads back from there what nobody has read for longest.
     *
     * @return array{int, int} copies that were read, and those of them that were not whole
     *
     * @throws PlaceFailure
     */
    public function readShare(Place $place, Progress $progress, Progress $quiet): array
    {
        $names = $this->plan->toRead();
        [] === $names ?: $progress->phase('reading_place', count($names));
        $broken = 0;
        foreach ($names as $name) {
            $isWhole = $this->isWhole($place, $name, new StopsAlone($quiet));
            $broken += $isWhole ? 0 : 1;
            $this->records->change(fn () => $this->entities->find(PlacedCopy::class, $name)?->wasRead(
                $this->clock->now(), $isWhole,
            ));
            $quiet->advance(1);
        }

        return [count($names), $broken];
    }

    /** Where nothing was left for the next time: what somebody works with, or what lies open still. */
    public function complete(): void
    {
        if (!$this->plan->isPressing() && [] === $this->plan->backups() && [] === $this->plan->trays()) {
            $this->records->change(fn () => $this->ours->record()?->isComplete($this->clock->now()));
        }
    }

    /** @return bool whether it was put there; not where it turns out to be broken here */
    private function putBackup(Place $place, string $id, Progress $quiet): bool
    {
        // What is not whole here is no copy of anything.
        $this->readBack->do($id, new StopsAlone($quiet), false);
        $backup = $this->entities->find(Backup::class, $id);
        if (null === $backup || null !== $backup->trouble()) {
            return false;
        }

        return $this->put($place, new ToPlace(
            $id, $this->vault->folderOf($id), $this->vault->stateOf($id),
            fn (): bool => !$this->isGoing(Backup::class, 'id', $id), $backup,
        ), $quiet);
    }

    /**
     * Whoever wants to work at it meanwhile need not wait: it is read without a lock, and is no copy where it has
     * changed by the end.
     *
     * @return bool whether it was put there; not while somebody works at it
     */
    private function putTray(Place $place, int $number, Progress $quiet): bool
    {
        $state = $this->plan->stateOfTray($number);
        $isStill = fn (): bool => $this->plan->stateOfTray($number) === $state
            && !$this->isWorkedAt($number) && !$this->isGoing(Tray::class, 'number', $number);

        return null !== $state && $this->put($place, new ToPlace(
            OurPlace::ofTray($number), $this->plan->trayFolder($number), $state, $isStill,
        ), $quiet);
    }

    private function isWorkedAt(int $number): bool
    {
        $tray = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number]);
        $locks = null === $tray ? [] : [
            $this->locks->ofErasing($number), ...array_map($this->locks->ofMove(...), $tray->allMoves()),
        ];
        if ([] === $locks || !WorkLocks::acquireAll($locks)) {
            return true;
        }
        WorkLocks::release($locks);

        return false;
    }

    /**
     * Whether somebody has it erased or dropped, as it stands in the records now.
     *
     * @param class-string $entity
     */
    private function isGoing(string $entity, string $by, string|int $value): bool
    {
        $dql = "SELECT COUNT(x) FROM $entity x WHERE x.$by = :value AND x.eraseAskedAt IS NULL";

        return 0 === (int) $this->entities->createQuery($dql)->setParameter('value', $value)->getSingleScalarResult();
    }

    /**
     * @return bool whether it is there; not where it has changed meanwhile
     *
     * @throws PlaceFailure
     */
    private function put(Place $place, ToPlace $of, Progress $progress): bool
    {
        if (!$of->isStill()) {
            return false;
        }
        // It is known before the first of it is there: whoever is killed meanwhile leaves nothing that is never erased.
        $isKnown = $this->records->change(function () use ($of): bool {
            if (null !== $of->backup && $this->isGoing(Backup::class, 'id', $of->backup->id)) {
                return false;
            }
            if (null === $this->entities->find(PlacedCopy::class, $of->name)) {
                $this->entities->persist(PlacedCopy::begun($of->name, $of->backup, $this->clock->now()));
            }

            return true;
        });
        try {
            $placed = !$isKnown ? null : (new PlaceCopies($place))->put(
                $of->name, $of->folder, $this->ours->key($of->name), $progress, $of->isStill(...),
            );
        } catch (DiskFailure $failure) {
            // Whoever works with it, or drops it, takes files away while they are read.
            !$of->isStill() ?: throw $failure;

            return false;
        }
        if (true !== $placed?->isThere) {
            return false;
        }
        $this->records->change(function () use ($of, $placed): void {
            $this->entities->find(PlacedCopy::class, $of->name)?->isPlaced(
                $of->state, $this->clock->now(), $placed->files, $placed->bytes,
            );
        });

        return true;
    }

    private function isWhole(Place $place, string $name, Progress $progress): bool
    {
        try {
            (new PlaceCopies($place))->readBack($name, $this->ours->key($name), $progress);

            return true;
        } catch (PlaceFailure $failure) {
            $failure->isOfOneCopy() ?: throw $failure;

            return false;
        }
    }

    /**
     * @param list<string> $backups
     * @param list<int>    $trays
     */
    private function tellHowMuch(array $backups, array $trays, Progress $progress): void
    {
        $folders = [
            ...array_map($this->vault->folderOf(...), $backups), ...array_map($this->plan->trayFolder(...), $trays),
        ];
        $files = $bytes = 0;
        foreach ($folders as $folder) {
            foreach (Folder::files($folder) as $path) {
                ++$files;
                $bytes += (int) @filesize($folder.'/'.$path);
            }
        }
        $progress->phase('placing', $files, $bytes);
    }

    /** Whoever has it works with it, or takes it away: then it is left for the next time. */
    private function alone(string $id, \Closure $work): void
    {
        $backup = $this->entities->find(Backup::class, $id);
        $lock = null === $backup ? null : $this->locks->ofErasing($backup->tray->number);
        if (true === $lock?->acquire()) {
            try {
                $work();
            } finally {
                $lock->release();
            }
        }
    }
}
