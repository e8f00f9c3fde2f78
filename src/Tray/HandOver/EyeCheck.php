<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\HandOver;

use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\RunSheet;
use Psr\Clock\ClockInterface;

/** What a customer compares with their own eyes, ticked off point by point. It counts for the newest check alone. */
final readonly class EyeCheck
{
    public const POINTS = ['order', 'last', 'pictures'];

    public function __construct(
        private Records $records,
        private RunSheet $sheet,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string $point of POINTS
     *
     * @throws Refusal
     */
    public function tick(int $tray, int $place, string $point, bool $isSame, string $by): void
    {
        $this->records->changeTray($tray, function (Tray $tray) use ($place, $point, $isSame, $by): void {
            $move = $tray->move($place) ?? throw Refusal::because('no_such_move');
            if (null !== $tray->closedAt()) {
                throw Refusal::because('tray_closed');
            }
            $bringing = $move->bringing();
            if (null === $bringing->check() || !$bringing->isInPlace()) {
                throw Refusal::because('nothing_checked');
            }
            if (isset($bringing->eyes()[$point]) === $isSame) {
                return;
            }
            $bringing->compared($point, $this->clock->now(), $by, $isSame);
            $this->log->noteWithFlush($by, $isSame ? 'eyes_same' : 'eyes_taken_back', $tray->number, [
                'rule' => '@eyes.'.$point, 'edition' => $move->edition,
            ]);
            if ($isSame && count($bringing->eyes()) === count(self::POINTS)) {
                $this->sheet->note($move, Stage::Check, $by, 'eyes', ['tag' => $move->to()->tag]);
            }
        });
    }
}
