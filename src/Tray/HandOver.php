<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunKind;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Psr\Clock\ClockInterface;

/** The last stage: the tray is closed, copies of the chats are dropped, the backup and the proof stay. */
final readonly class HandOver
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private MoveFiles $files,
        private RunSheet $sheet,
        private ClockInterface $clock,
    ) {
    }

    /** @throws Refusal */
    public function close(int $number, string $by): void
    {
        $tray = $this->records->changeTray($number, function (Tray $tray) use ($by): Tray {
            if (null !== $tray->closedAt()) {
                throw Refusal::because('handed_over_already');
            }
            if ($tray->isBusy()) {
                throw Refusal::because('hand_over_while_busy');
            }
            if ([] === $tray->moves()) {
                throw Refusal::because('nothing_checked');
            }
            $missing = 0;
            $isComplete = true;
            foreach ($tray->moves() as $move) {
                if ($tray->onlyBacksUp()) {
                    $move->backup() ?? throw Refusal::because('move_not_backed_up', ['edition' => $move->edition]);
                    continue;
                }
                $totals = $move->check()?->totals() ?? throw Refusal::because(
                    1 === count($tray->moves()) ? 'nothing_checked' : 'move_not_checked', ['edition' => $move->edition],
                );
                $missing += $totals['missing'];
                $isComplete = $isComplete && $totals['complete'];
            }
            $tray->close($this->clock->now());
            $this->forgetWhatTheyHold($tray);
            $code = match (true) {
                $tray->onlyBacksUp() => 'handed_over_backed_up',
                $isComplete => 'handed_over',
                default => 'handed_over_incomplete',
            };
            $this->sheet->note($tray, null, Stage::HandOver, $by, $code, ['missing' => $missing]);

            return $tray;
        });
        // Only once it is stored that they are needed no more.
        foreach ($tray->allMoves() as $move) {
            $this->drop($move);
        }
    }

    /** Copies of the chats besides the backup: what was converted and read back, and backups that were only begun. */
    private function drop(Move $move): void
    {
        $this->files->dropCopies($move);
        foreach ($this->entities->getRepository(Run::class)->findBy(['move' => $move]) as $run) {
            $this->files->dropBegun(RunKind::Backup === $run->kind ? $run->id : $run->safetyCopyId());
        }
    }

    /** In the caller's transaction. Whose phone lies on the bench next time is nobody's business until they consent. */
    private function forgetWhatTheyHold(Tray $tray): void
    {
        $serials = array_map(static fn (TrayPhone $phone): string => $phone->serial, $tray->phones());
        $this->entities->createQuery('DELETE FROM '.Holding::class.' h WHERE h.serial IN (:serials)')
            ->setParameter('serials', $serials)->execute();
        foreach ($this->entities->getRepository(Phone::class)->findBy(['serial' => $serials]) as $phone) {
            $phone->startAnew();
        }
    }

    /** For the watch: copies that are there still because the power went between closing a tray and dropping them. */
    public function dropWhatWasLeft(): void
    {
        $dql = 'SELECT m FROM '.Move::class.' m JOIN m.tray t WHERE t.closedAt IS NOT NULL';
        foreach ($this->entities->createQuery($dql)->toIterable() as $move) {
            if ($move instanceof Move) {
                $this->drop($move);
            }
        }
        $this->entities->clear();
    }
}
