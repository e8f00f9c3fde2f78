<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Time;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Runs\KindOfMove;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Runs\Phase;

/** How long it takes until a person is needed, from what was measured; nothing where something was never measured. */
final readonly class Forecast
{
    public function __construct(private Paces $paces, private Kinds $kinds)
    {
    }

    /** @param float|null $phaseLeft seconds that the phase takes that it is in, where that shows */
    public function secondsLeft(Run $run, ?float $phaseLeft): ?int
    {
        if (!$run->subject() instanceof Move) {
            // It is all in what moves now.
            return null === $phaseLeft ? null : max(1, (int) ceil($phaseLeft));
        }
        $move = $run->move();
        $kind = $this->kinds->ofMove($run->kind);
        $phases = $kind->phases($move);
        $names = array_map(static fn (Phase $phase): string => $phase->name, $phases);
        $at = array_search($run->phase, $names, true);
        $seconds = 0.0;
        $left = [];
        foreach ($phases as $place => $phase) {
            if (false !== $at && $place === $at && null !== $phaseLeft) {
                $seconds += $phaseLeft;
            } elseif (false === $at || $place >= $at) {
                $left[] = [$kind, $phase, $run->phone()->serial ?? ''];
            }
        }
        // What comes before the first phase, like the list of the files, or behind the last is not in the plan.
        if (false === $at && 'swapping' === $run->phase) {
            $left = [];
        }
        $next = $kind->next();
        if (null !== $next) {
            $following = $this->kinds->ofMove($next);
            foreach ($following->phases($move) as $phase) {
                $left[] = [$following, $phase, $following->phone($move)->serial ?? ''];
            }
        }
        $rest = $this->sum($left, $this->paces->units($move));

        return null === $rest ? null : max(1, (int) ceil($seconds + $rest));
    }

    /** What converting, writing and reading back take with a choice; null where something was never measured. */
    public function secondsOf(Move $move, int $bytes, int $messages): ?int
    {
        $left = [];
        foreach ($this->kinds->across() as $kind) {
            foreach ($kind->phases($move) as $phase) {
                $left[] = [$kind, $phase, $move->to()->serial];
            }
        }
        $seconds = $this->sum($left, ['bytes' => $bytes, 'messages' => $messages] + $this->paces->units($move));

        return null === $seconds ? null : max(1, (int) ceil($seconds));
    }

    /**
     * @param list<array{KindOfMove, Phase, string}> $left  with the serial of the phone, where it goes by one
     * @param array<string, int|null>             $units
     */
    private function sum(array $left, array $units): ?float
    {
        $seconds = 0.0;
        foreach ($left as [$kind, $phase, $serial]) {
            $pace = $this->paces->of($kind, $phase, $serial);
            $done = $units[$phase->unit];
            if (0 === $done) {
                continue;
            }
            if (null === $pace && $this->paces->hasMeasured($kind)) {
                // It was over too quickly to be measured.
                continue;
            }
            if (null === $pace || $pace <= 0.0 || null === $done) {
                return null;
            }
            $seconds += $done / $pace;
        }

        return $seconds;
    }
}
