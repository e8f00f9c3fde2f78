<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\StopWish;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\Leftovers;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\Tray\RunSheet;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;

/**
 * The way out of a tray at every stage: the customer withdraws, or the job ends without a hand-over. What is under way
 * is undone, phones are free, and what is kept is erased or kept as the customer says. Chats that are on the receiving
 * phone already stay there; where they are not to, the phone is put back first.
 */
final readonly class Withdrawal
{
    public function __construct(
        private Records $records,
        private HandOver $handOver,
        private Erasing $erasing,
        private RunSheet $sheet,
        private ShopLog $log,
        private Leftovers $leftovers,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string $confirmed the tray's number as it was typed
     * @param bool   $keeps     whether what was backed up is kept by the shop's rule, and not erased at once
     *
     * @throws Refusal
     */
    public function end(int $number, string $confirmed, bool $keeps, string $by): void
    {
        $tray = $this->records->changeTray($number, function (Tray $tray) use ($confirmed, $keeps, $by): Tray {
            if (null !== $tray->closedAt()) {
                throw Refusal::because('handed_over_already');
            }
            if ((string) $tray->number !== trim($confirmed)) {
                throw Refusal::because('wrong_number', ['tray' => $tray->number]);
            }
            foreach ($tray->allMoves() as $move) {
                $run = $move->run();
                if (null !== $run && !$run->state()->rests()) {
                    $run->stop(StopWish::Cancel, $by);
                    $this->bus->dispatch(new WorkOnRun($run->id));
                }
                $run?->isFollowed($this->clock->now());
            }
            $this->handOver->end($tray, $by);
            $tray->withdraw();
            $this->sheet->note($tray, Stage::HandOver, $by, 'withdrawn', ['kept' => $keeps ? 'yes' : 'no']);
            $this->log->noteWithFlush($by, 'withdrawn', $tray->number, ['kept' => $keeps ? 'yes' : 'no']);
            if (!$keeps) {
                $this->erasing->askFor($tray, $by);
            }

            return $tray;
        });
        foreach ($tray->allMoves() as $move) {
            $this->leftovers->drop($move);
        }
    }
}
