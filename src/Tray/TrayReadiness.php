<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Phone\Role;

/**
 * Whether a tray's phones are fit for the work, as the watch saw them last. The page, the shelf and the guard of a run
 * ask here and nowhere else.
 */
final readonly class TrayReadiness
{
    public function __construct(private Phones $phones)
    {
    }

    /** @return list<array{phone: TrayPhone, points: list<Point>}> the giving phone first */
    public function of(Tray $tray): array
    {
        return $this->forMoves($tray, $tray->moves());
    }

    /** The first thing that has to be done before a move can begin. */
    public function lacking(Move $move): ?LackingPoint
    {
        return self::firstLacking($this->forMoves($move->tray, [$move]));
    }

    public function lackingOf(Tray $tray): ?LackingPoint
    {
        return self::firstLacking($this->of($tray));
    }

    /**
     * @param list<Move> $moves
     *
     * @return list<array{phone: TrayPhone, points: list<Point>}>
     */
    private function forMoves(Tray $tray, array $moves): array
    {
        $numbers = [];
        $rows = [];
        foreach ([Role::Gives, Role::Receives] as $role) {
            $phone = $tray->phone($role);
            $state = $this->phones->state($phone->serial);
            $points = Readiness::ofPhone($state, $role, Role::Receives === $role ? $this->bytes($moves) : null);
            foreach ($moves as $move) {
                $number = $numbers[$move->app] ?? null;
                array_push($points, ...Readiness::ofAccount($state, $role, $move->app, $move->edition, $number));
                if (Role::Gives === $role) {
                    $numbers[$move->app] = $state?->app($move->app)?->number;
                }
            }
            $rows[] = ['phone' => $phone, 'points' => $points];
        }

        return $rows;
    }

    /** @param list<array{phone: TrayPhone, points: list<Point>}> $rows */
    private static function firstLacking(array $rows): ?LackingPoint
    {
        foreach ($rows as $row) {
            foreach ($row['points'] as $point) {
                if (!$point->isReady()) {
                    return new LackingPoint($row['phone'], $point);
                }
            }
        }

        return null;
    }

    /**
     * Bytes that attachments will take on the receiving phone: as backed up, else as the giving phone holds now.
     *
     * @param list<Move> $moves
     */
    private function bytes(array $moves): ?int
    {
        $sum = null;
        foreach ($moves as $move) {
            if (null !== $move->restoredAt()) {
                continue;
            }
            $bytes = $move->backup()->attachmentBytes
                ?? $this->phones->holding($move->from()->serial, $move->app)?->attachmentBytes();
            $sum = null === $bytes ? $sum : ($sum ?? 0) + $bytes;
        }

        return $sum;
    }
}
