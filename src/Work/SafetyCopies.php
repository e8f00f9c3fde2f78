<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Contacts\KeptBook;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Records;
use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\UnusableInput;
use Geschenk\Core\WayIn\Cable\CableWay;
use Psr\Clock\ClockInterface;

/** Keeps all that an app holds on a phone, before it is written to. One is taken for a run, and found again by it. */
final readonly class SafetyCopies
{
    public function __construct(
        private BackupMaker $maker,
        private CableWay $cable,
        private Vault $vault,
        private Records $records,
        private EntityManagerInterface $entities,
        private ClockInterface $clock,
    ) {
    }

    /**
     * Takes it, or goes on with it, or finds it: complete, read back, and of what the phone holds at this moment.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws RestoreRefused when a file can't be read: then nothing could be put back as it was
     * @throws UnusableInput
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function take(Run $run, PhoneLink $link, Progress $progress): Backup
    {
        $move = $run->move();
        $id = $run->safetyCopyId();
        if ($this->vault->isKept($id) && $link->mark($move->app) !== $this->markOf($id)) {
            // Something has come in since: of no use any more, and nothing was written yet.
            $this->drop($run);
        }
        $this->maker->make($this->cable->whole(), new Taking($link, $move->app, CableWay::now()), $id, [
            'Bagging-Date' => $this->clock->now()->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk',
            'External-Identifier' => $id,
            'External-Description' => sprintf(
                'Safety copy: %s, %s, %d', $move->edition, $link->serial(), $move->tray->number,
            ),
        ], new SafetyProgress($progress));

        return $this->entities->find(Backup::class, $id) ?? $this->records->change(
            function () use ($run, $link, $id): Backup {
                $move = $run->move();
                $chats = $this->vault->open($id)->chats();
                $summary = $chats->summary();
                $backup = new Backup(
                    $id, $this->records->next(Backup::class), $move->tray, $link->serial(), $move->app,
                    $move->edition, CableWay::name(), $this->clock->now(), $chats->source()->account,
                    $summary['conversations'], $summary['messages'], $summary['attachments'],
                    $summary['attachments_missing'], $summary['attachment_bytes'],
                    $chats->newestUpTo(Looks::soon()), $summary['lost'], origin: Origin::SafetyCopy,
                    lossUncounted: $chats->isLossUncounted(),
                );
                $this->entities->persist($backup);

                return $backup;
            },
        );
    }

    /**
     * What an app holds, to merge with: one that was copied for this job and is still what the phone holds, or a new
     * one. A copy from which something could still be put back stays, whatever the phone holds by now.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws RestoreRefused
     * @throws UnusableInput
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function toMergeWith(Run $run, PhoneLink $link, Progress $progress): Backup
    {
        $move = $run->move();
        $copies = $this->entities->getRepository(Backup::class)->findBy([
            'tray' => $move->tray, 'serial' => $link->serial(), 'app' => $move->app, 'origin' => Origin::SafetyCopy,
        ], ['counter' => 'DESC']);
        $seen = $link->mark($move->app);
        foreach ($copies as $copy) {
            if ($this->mark($copy) === $seen) {
                return $copy;
            }
            $this->dropOf($copy->id);
        }

        return $this->take($run, $link, $progress);
    }

    /** @return list<Backup> what the receiving phone held each time the move was merged with it, in that order */
    public function kept(Move $move): array
    {
        $copies = array_map(
            fn (string $id): ?Backup => $this->entities->find(Backup::class, $id), $move->bringing()->expectsBeside(),
        );

        return array_values(array_filter($copies, static fn (?Backup $copy): bool => null !== $copy));
    }

    /** What the phone's data was marked with when it was copied. */
    public function mark(Backup $copy): string
    {
        return $this->markOf($copy->id);
    }

    /** What an address book held before it was written to, beside what the app held then. */
    public function book(Backup $copy): TagFiles
    {
        return $this->vault->tagFiles($copy->id, KeptBook::FOLDER);
    }

    /** The same, beside the copy that was taken for a run. */
    public function bookOf(Run $run): TagFiles
    {
        return $this->vault->tagFiles($run->safetyCopyId(), KeptBook::FOLDER);
    }

    /** Removes what a run has copied that it does not need: none that something could still be put back from. */
    public function drop(Run $run): int
    {
        return $this->dropOf($run->safetyCopyId());
    }

    private function dropOf(string $id): int
    {
        $isNeeded = $this->records->change(function () use ($id): bool {
            $copy = $this->entities->find(Backup::class, $id);
            if (null === $copy) {
                return false;
            }
            foreach ($copy->tray->allMoves() as $move) {
                foreach ($move->bringings() as $bringing) {
                    if ($bringing->needs($copy)) {
                        return true;
                    }
                }
            }
            // What lies of it elsewhere stays known until it is gone from there.
            $this->entities->find(PlacedCopy::class, $id)?->isDropped($this->clock->now());
            $this->entities->flush();
            $this->entities->remove($copy);

            return false;
        });

        return $isNeeded ? 0 : $this->vault->discard($id);
    }

    private function markOf(string $id): string
    {
        return $this->vault->open($id)->info()[BackupMaker::MARK] ?? '';
    }
}
