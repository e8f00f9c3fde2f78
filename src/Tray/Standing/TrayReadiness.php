<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Standing;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\OfferSeen;
use Geschenk\App\Entity\StepTold;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Tray\Time\Paces;
use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\AfterRestore;
use Geschenk\Core\Phone\Demand;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Phone\Rule\AccountRule;
use Geschenk\Core\Phone\Rule\ToldStep;
use Geschenk\Core\Phone\Situation;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\WayIn\Ways;
use Psr\Clock\ClockInterface;

/**
 * Whether a tray's phones are fit for the work, as the watch saw them last. The page, the shelf and the guard of a run
 * ask here and nowhere else.
 */
final readonly class TrayReadiness
{
    public function __construct(
        private Phones $phones,
        private Paces $paces,
        private Ways $ways,
        private ClockInterface $clock,
    ) {
    }

    /**
     * Beside what the way in needs by which the chats are taken: that goes by what is chosen.
     *
     * @return list<array{phone: TrayPhone, points: list<Point>}> the giving phone first
     */
    public function of(Tray $tray): array
    {
        return $this->rows($tray, static fn (): ?Offer => null);
    }

    /**
     * The first thing that has to be done before a move can begin: on the phone that gives. It is backed up as soon as
     * it is ready, while the customer still sets up the other.
     */
    public function lacking(Move $move): ?LackingPoint
    {
        return $move->tray->has(Role::Gives)
            ? self::firstLacking([$this->row($move->tray, [$move], Role::Gives, static fn (): ?Offer => null)])
            : null;
    }

    /** @return list<Offer> what the ways in have of an account; none where nobody knows, or nothing gives */
    public function offers(Move $move): array
    {
        return array_map(
            static fn (OfferSeen $seen): Offer => $seen->offer, $this->given($move)?->offers() ?? [],
        );
    }

    /** @return list<Point> what the way in of an offer needs on the phone that gives, and is seen not to be done yet */
    public function stepsToDo(Move $move, Offer $offer): array
    {
        $way = $this->ways->named($offer->way);
        $phone = $this->phones->state($move->from()->serial);
        if (null === $way || null === $phone) {
            return [];
        }
        $situation = new Situation($phone, Role::Gives, null);
        $asked = new AccountAsked($move->app, $move->edition, null, told: self::told($move, $way->steps()));
        $points = array_map(
            static fn (AccountRule $step): ?Point => $step->judge($situation, $asked), $way->steps(),
        );

        return array_values(array_filter(
            $points, static fn (?Point $point): bool => Point::TO_DO === $point?->status,
        ));
    }

    /** @return array<string, ToldStep> steps of the ways that have something of an account, by name */
    public function toldSteps(Move $move): array
    {
        $steps = [];
        foreach ($this->offers($move) as $offer) {
            foreach ($this->ways->named($offer->way)?->steps() ?? [] as $step) {
                if ($step instanceof ToldStep) {
                    $steps[$step->name] = $step;
                }
            }
        }

        return $steps;
    }

    /**
     * Asked of the records only where a way has such steps.
     *
     * @param list<AccountRule> $steps
     *
     * @return list<string>
     */
    private static function told(Move $move, array $steps): array
    {
        $isAny = [] !== array_filter($steps, static fn (AccountRule $step): bool => $step instanceof ToldStep);

        return $isAny ? array_map(static fn (StepTold $told): string => $told->step, $move->told()) : [];
    }

    /** Whether the phone that gives is ready, whatever the other lacks. */
    public function mayBackUp(Tray $tray): bool
    {
        return [] !== $tray->moves() && $tray->has(Role::Gives)
            && null === self::firstLacking([$this->row($tray, $tray->moves(), Role::Gives, $this->taken(...))]);
    }

    /** What has to be done on the phone that receives before it is written to. */
    public function lackingToRestore(Move $move): ?LackingPoint
    {
        return self::firstLacking([
            $this->row($move->tray, [$move], Role::Receives, static fn (): ?Offer => null, true),
        ]);
    }

    /** @return list<Point> what is still to happen on the phone that has received; none behind the hand-over */
    public function afterRestore(Move $move): array
    {
        $restoredAt = $move->bringing()->restoredAt();
        if (null === $restoredAt || !$move->bringing()->isInPlace() || null !== $move->tray->closedAt()) {
            return [];
        }
        $account = new AccountAsked($move->app, $move->edition, null);
        $since = $this->clock->now()->getTimestamp() - $restoredAt->getTimestamp();

        return AfterRestore::points($this->phones->state($move->to()->serial), $account, max(0, $since));
    }

    public function lackingOf(Tray $tray): ?LackingPoint
    {
        return self::firstLacking($this->rows($tray, $this->taken(...)));
    }

    /**
     * @param callable(Move): ?Offer $offerOf what is taken of an account, where one gives
     *
     * @return list<array{phone: TrayPhone, points: list<Point>}>
     */
    private function rows(Tray $tray, callable $offerOf): array
    {
        return array_map(
            fn (Role $role): array => $this->row($tray, $tray->moves(), $role, $offerOf), $tray->errand->roles(),
        );
    }

    /**
     * @param list<Move>              $moves
     * @param callable(Move): ?Offer $offerOf what is taken of an account, where one gives
     *
     * @return array{phone: TrayPhone, points: list<Point>}
     */
    private function row(Tray $tray, array $moves, Role $role, callable $offerOf, bool $isForRestore = false): array
    {
        $phone = $tray->phone($role);
        $state = $this->phones->state($phone->serial);
        $points = Readiness::ofPhone($state, $role, $this->job($moves, $role));
        foreach ($moves as $move) {
            $number = Role::Receives === $role ? $this->number($move) : null;
            $offer = Role::Gives === $role ? $offerOf($move) : null;
            $steps = null === $offer ? [] : $this->ways->named($offer->way)?->steps() ?? [];
            $asked = new AccountAsked(
                $move->app, $move->edition, $number, $isForRestore, self::told($move, $steps),
            );
            array_push($points, ...Readiness::ofAccount($state, $role, $asked, $steps));
        }

        return ['phone' => $phone, 'points' => $points];
    }

    /** What is being taken of an account, or else what is proposed; null while nobody knows. */
    private function taken(Move $move): ?Offer
    {
        return $move->run()?->offer() ?? $this->given($move)?->proposed();
    }

    /**
     * E.164 number of the account that goes across. The giving phone may be signed out by then, or put away: its chats
     * say whose they are, and so does the backup.
     */
    public function number(Move $move): ?string
    {
        if (!$move->tray->has(Role::Gives)) {
            return $move->backup()?->account;
        }
        $from = $move->from()->serial;
        $counts = $this->phones->holding($from, $move->app)?->counts();
        $inChats = '' === ($counts['number'] ?? '') ? null : $counts['number'];

        return $move->backup()->account ?? $this->phones->state($from)?->app($move->app)->number ?? $inChats;
    }

    /** @param list<array{phone: TrayPhone, points: list<Point>}> $rows */
    private static function firstLacking(array $rows): ?LackingPoint
    {
        foreach ($rows as $row) {
            foreach ($row['points'] as $point) {
                if ($point->isHindrance()) {
                    return new LackingPoint($row['phone'], $point);
                }
            }
        }

        return null;
    }

    /** What a choice asks of the phone that receives. */
    public function jobOf(Move $move, int $bytes): Demand
    {
        $chats = $this->given($move)?->chatBytes() ?? 0;
        $serial = $move->to()->serial;

        return new Demand($bytes, $chats, Role::Receives, $this->paces->ofCable($serial));
    }

    /** What the phone that gives holds of it; null where none gives, or nobody has looked. */
    private function given(Move $move): ?Holding
    {
        return $move->tray->has(Role::Gives) ? $this->phones->holding($move->from()->serial, $move->app) : null;
    }

    /**
     * What is still asked of a phone: of attachments as backed up, else as the giving phone holds them now.
     *
     * @param list<Move> $moves
     */
    private function job(array $moves, Role $role): ?Demand
    {
        $attachments = $chats = null;
        foreach ($moves as $move) {
            $bringing = $move->bringing();
            if ($bringing->isInPlace()) {
                continue;
            }
            $holding = $this->given($move);
            // What was rehearsed is exact, and of a merge holds what the phone keeps.
            $bytes = $bringing->rehearsal()['bytes'] ?? $bringing->brings()['bytes']
                ?? $bringing->backup()->attachmentBytes ?? $holding?->attachmentBytes();
            if (null !== $bytes) {
                $attachments = ($attachments ?? 0) + $bytes;
                $chats = ($chats ?? 0) + ($holding?->chatBytes() ?? 0);
            }
        }

        if (null === $attachments) {
            return null;
        }

        $serial = $moves[0]->tray->phone($role)->serial;

        return new Demand($attachments, $chats ?? 0, $role, $this->paces->ofCable($serial));
    }
}
