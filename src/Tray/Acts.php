<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\Choosing\BringMore;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\Tray\HandOver\Keeping;
use Geschenk\App\Tray\Intake\Intake;

/**
 * What may be done about a tray and its accounts beside runs, and, where it would be refused now, why. What is not its
 * turn is not named. The page is told it; whoever does it goes by the same.
 */
final readonly class Acts
{
    public function __construct(private HandOver $handOver, private Keeping $keeping)
    {
    }

    /** @return array<string, Refusal|null> by the name of the act */
    public function ofTray(Tray $tray): array
    {
        if (null !== $tray->closedAt()) {
            return $tray->keepsChats() ? [
                'keep_until' => null, 'erase' => self::refusal(fn () => $this->keeping->ensureMayErase($tray)),
                'reopen' => self::refusal(static fn () => HandOver::ensureMayReopen($tray)),
            ] : [];
        }
        $acts = [
            'hand_over' => self::refusal(fn () => $this->handOver->ensureMay($tray)), 'correct' => null,
            'withdraw' => null, 'print_labels' => null,
        ];
        if ($tray->isBetweenPhones() && !$tray->hasRestored()) {
            $acts['turn'] = self::refusal(static fn () => Intake::ensureMayTurn($tray));
        }

        return $acts;
    }

    /** @return list<string> names of what may be done about an account at this moment */
    public static function ofMove(Move $move): array
    {
        $acts = $move->isLeftOut() ? ['take_in' => static fn () => Intake::ensureMayLeave($move, false)] : [
            'leave_out' => static fn () => Intake::ensureMayLeave($move, true),
            'bring_rest' => static fn () => BringMore::ensureRest($move),
            'bring_missing' => static fn () => BringMore::ensureMissing($move),
            'compare_by_eye' => static fn () => BringMore::ensureChecked($move),
        ];

        return array_keys(array_filter($acts, static fn (\Closure $act): bool => null === self::refusal($act)));
    }

    /** @param callable(): mixed $ensure */
    private static function refusal(callable $ensure): ?Refusal
    {
        try {
            $ensure();

            return null;
        } catch (Refusal $why) {
            return $why;
        }
    }
}
