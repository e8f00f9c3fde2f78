<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunKind;

/** How long it takes until a person is needed, from what was measured; nothing where something was never measured. */
final readonly class Forecast
{
    /** What follows a run by itself. */
    private const FOLLOWS = ['restore' => RunKind::Check];

    public function __construct(private Paces $paces)
    {
    }

    /** @param float|null $phaseLeft seconds that the phase takes that it is in, where that shows */
    public function secondsLeft(Run $run, ?float $phaseLeft): ?int
    {
        $units = $this->paces->units($run->move);
        $phases = Phase::of($run->kind);
        $names = array_map(static fn (Phase $phase): string => $phase->name, $phases);
        $at = array_search($run->phase, $names, true);
        $seconds = 0.0;
        $left = [];
        foreach ($phases as $place => $phase) {
            if (false !== $at && $place === $at && null !== $phaseLeft) {
                $seconds += $phaseLeft;
            } elseif (false === $at || $place >= $at) {
                $left[] = [$run->kind, $phase, $run->phone()->serial ?? ''];
            }
        }
        // What comes before the first phase, like the list of the files, or behind the last is not in the plan.
        if (false === $at && 'swapping' === $run->phase) {
            $left = [];
        }
        $next = self::FOLLOWS[$run->kind->value] ?? null;
        if (null !== $next) {
            foreach (Phase::of($next) as $phase) {
                $left[] = [$next, $phase, $run->move->to()->serial];
            }
        }
        foreach ($left as [$kind, $phase, $serial]) {
            $pace = $this->paces->of($kind, $phase, $serial);
            $done = $units[$phase->unit];
            if (0 === $done) {
                continue;
            }
            if (null === $pace || $pace <= 0.0 || null === $done) {
                return null;
            }
            $seconds += $done / $pace;
        }

        return max(1, (int) ceil($seconds));
    }
}
