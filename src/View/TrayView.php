<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\StepTold;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Guide\Guides;
use Geschenk\App\Http\Time;
use Geschenk\App\Tray\Acts;
use Geschenk\App\Tray\Choosing\Behind;
use Geschenk\App\Tray\Choosing\Merging;
use Geschenk\App\Tray\HandOver\StillOpen;
use Geschenk\App\Tray\Intake\DirectionDoubt;
use Geschenk\App\Tray\Intake\Labels;
use Geschenk\App\Tray\Intake\RolesProposal;
use Geschenk\App\Tray\Standing\TrayReadiness;
use Geschenk\App\Tray\Standing\TrayStatus;
use Geschenk\App\Tray\Standing\Waits;
use Geschenk\App\Words\Words;
use Geschenk\Core\Phone\Point;

/**
 * A tray as the API shows it: short on the shelf, whole when it is open.
 *
 * @phpstan-import-type Picture from Guides as GuidePicture
 *
 * @phpstan-type Picture array{
 *     number: int, errand: string, stage: string, stage_place: int, closed: bool, changed_at: string|null,
 *     waits: array<string, mixed>, accounts: list<array<string, mixed>>,
 *     phones: list<array{tag: string, role: string, serial: string}>,
 * }
 */
final readonly class TrayView
{
    public function __construct(
        private TrayStatus $status,
        private TrayReadiness $readiness,
        private DirectionDoubt $doubt,
        private RolesProposal $proposals,
        private SwitchedView $switched,
        private GuideView $guides,
        private PhoneView $phones,
        private ProgressView $progress,
        private RunView $runs,
        private Phones $seen,
        private Behind $behind,
        private ChoiceView $choice,
        private Merging $merging,
        private KeepingView $keeping,
        private StillOpen $open,
        private Acts $acts,
        private Labels $labels,
        private EntityManagerInterface $entities,
        private Words $words,
    ) {
    }

    /**
     * What is told by the records of a tray alone, and by nobody's name.
     *
     * @param list<Tray> $trays
     *
     * @return array<int, Picture> by the tray's id
     */
    public function pictures(array $trays): array
    {
        $pictures = [];
        foreach ($trays as $tray) {
            $pictures[$tray->id()] = $this->picture($tray);
        }

        return $pictures;
    }

    /**
     * Pictures with their customers, and with what their phones show now.
     *
     * @param list<Picture> $pictures
     *
     * @return list<array<string, mixed>>
     */
    public function onShelf(array $pictures): array
    {
        $serials = array_merge([], ...array_map(
            static fn (array $picture): array => array_column($picture['phones'], 'serial'), $pictures,
        ));
        $holdings = $this->seen->gather($serials);
        $alike = $this->seen->lookAlikes($serials);
        $customers = $this->customers(array_column($pictures, 'number'));

        return array_map(fn (array $picture): array => [
            ...$picture, 'customer' => $customers[$picture['number']] ?? '',
            'phones' => array_map(fn (array $phone): array => [
                'tag' => $phone['tag'], 'role' => $phone['role'],
                'look_alike' => $picture['closed'] ? null : $alike[$phone['serial']] ?? null,
                'live' => $this->phones->live(
                    $phone['serial'], $picture['closed'] ? null : $holdings[$phone['serial']] ?? [],
                ),
            ], $picture['phones']),
        ], $pictures);
    }

    /**
     * @param list<int> $numbers
     *
     * @return array<int, string> names by the tray's number
     */
    private function customers(array $numbers): array
    {
        $dql = 'SELECT t.number, COALESCE(t.nameOnSheet, c.name) AS name FROM '.Tray::class.' t JOIN t.customer c '
            .'WHERE t.number IN (:numbers)';
        /** @var list<array{number: int, name: string}> $rows */
        $rows = $this->entities->createQuery($dql)->setParameter('numbers', $numbers)->getArrayResult();

        return array_column($rows, 'name', 'number');
    }

    /** @return array<string, mixed> */
    public function whole(Tray $tray): array
    {
        $tag = $this->onShelf([$this->picture($tray)])[0] ?? [];

        return [
            ...$tag, 'contact' => $tray->customer->contact(), 'language' => $tray->customer->language(),
            'direction' => $this->direction($tray), 'proposal' => $this->proposal($tray),
            'switched' => $this->switched->of($tray), 'keeping' => $this->keeping->of($tray),
            'opened_at' => Time::iso($tray->openedAt), 'opened_by' => $tray->openedBy,
            'withdrawn' => $tray->isWithdrawn(), 'labels' => $this->labels->of($tray),
            'may' => $this->mayOfTray($tray),
            'open' => array_map(fn (array $open): array => [
                'id' => $open['id'], 'tag' => $open['tag'],
                'text' => $this->words->say($open['words'], $open['params']),
            ], $this->open->of($tray)),
            'steps' => array_map($this->step(...), $tray->steps()),
            'moves' => array_map($this->move(...), $tray->allMoves()),
        ];
    }

    /** @return list<array<string, mixed>> */
    public function readiness(Tray $tray): array
    {
        $rows = [];
        foreach ($this->readiness->of($tray) as ['phone' => $phone, 'points' => $points]) {
            $guides = $this->guides->of($this->seen->state($phone->serial));
            $rows[] = [
                'tag' => $phone->tag, 'role' => $phone->role()->value,
                'points' => array_map(fn (Point $point): array => $this->point($point, $guides), $points),
            ];
        }

        return $rows;
    }

    /** @return Picture */
    private function picture(Tray $tray): array
    {
        $stage = $this->status->stage($tray);

        return [
            'number' => $tray->number, 'errand' => $tray->errand->value, 'stage' => $stage->value,
            'stage_place' => $stage->place(), 'closed' => null !== $tray->closedAt(),
            'waits' => $this->waitsOf($tray), 'changed_at' => Time::iso($tray->changedAt()),
            'phones' => array_map(static fn (TrayPhone $phone): array => [
                'tag' => $phone->tag, 'role' => $phone->role()->value, 'serial' => $phone->serial,
            ], $tray->phones()),
            'accounts' => array_map(fn (Move $move): array => [
                'place' => $move->place, 'edition' => $move->edition, 'stage' => $this->status->moveStage($move)->value,
                'waits_for' => $this->status->moveWaits($move)->for,
            ], $tray->moves()),
        ];
    }

    /** @return array<string, mixed>|null */
    private function proposal(Tray $tray): ?array
    {
        $proposal = $this->proposals->of($tray);

        return null === $proposal ? null : [
            'gives' => $proposal['gives']->tag, 'agrees' => $proposal['agrees'],
            'there' => self::side($proposal['there']), 'other' => self::side($proposal['other']),
            'same_number' => $proposal['same_number'],
        ];
    }

    /**
     * @param array{messages: int, newest_at: int|null} $side
     *
     * @return array{messages: int, newest_at: string|null}
     */
    private static function side(array $side): array
    {
        return ['messages' => $side['messages'], 'newest_at' => Time::ofMilliseconds($side['newest_at'])];
    }

    private function direction(Tray $tray): ?string
    {
        $doubt = $this->doubt->of($tray);

        return null === $doubt ? null : $this->words->say($doubt['key'], $doubt['params']);
    }

    /** @return array<string, mixed> */
    private function move(Move $move): array
    {
        $stage = $this->status->moveStage($move);
        $run = $move->run();
        $bringing = $move->bringing();
        $backup = $bringing->backup();
        $copy = $bringing->isOnPhone() ? $bringing->wayBack() : null;
        $putBackAt = $bringing->putBackAt();
        $restoredAt = $bringing->isInPlace() ? $bringing->restoredAt() : null;
        $checks = $this->entities->getRepository(Check::class)
            ->findBy(['bringing' => $move->bringings()], ['id' => 'DESC']);

        return [
            'place' => $move->place, 'app' => $move->app, 'edition' => $move->edition, 'left_out' => $move->isLeftOut(),
            'number' => $this->readiness->number($move),
            'stage' => $stage->value, 'stage_place' => $stage->place(),
            'waits' => $this->waits($this->status->moveWaits($move)),
            'lacking' => Stage::Restore === $stage ? $this->lacking($move) : null,
            'after_restore' => array_map(
                fn (Point $point): array => $this->point($point, []), $this->readiness->afterRestore($move),
            ),
            'run' => null === $run ? null : $this->runs->of($run, $this->status->may($run)), 'may' => $this->may($move),
            'lacking_for' => $this->lackingFor($move), 'told' => array_map($this->told(...), $move->told()),
            'backup' => null === $backup ? null : KeptBackupView::facts(
                $backup, $this->behind->newestOnPhone($move),
            ),
            'rehearsal' => $bringing->rehearsal()['totals'] ?? null,
            'left_out_on_purpose' => $this->choice->leftOut($move), 'merges' => $bringing->merges(),
            'completes' => $bringing->completes() && !$bringing->isInPlace(), 'trial' => $bringing->isTrial(),
            'eyes' => count($bringing->eyes()),
            'merge' => $this->merge($move, $this->merging->isStale($move)),
            'brings' => null === $backup ? null : [
                'messages' => $bringing->brings()['messages'] ?? $backup->messages,
                'bytes' => $bringing->brings()['bytes'] ?? $backup->attachmentBytes,
            ],
            'safety_copy' => null === $copy ? null : [
                'taken_at' => Time::iso($copy->takenAt), 'conversations' => $copy->conversations,
                'messages' => $copy->messages, 'lost' => $copy->lost, 'loss_uncounted' => $copy->lossUncounted,
            ],
            'restored_at' => null === $restoredAt ? null : Time::iso($restoredAt),
            'put_back_at' => null === $putBackAt ? null : Time::iso($putBackAt),
            'arrival' => $bringing->check()?->totals(),
            'bringings' => array_map(self::bringing(...), $move->bringings()),
            'checks' => array_map(static fn (Check $check): array => [
                'id' => $check->id(), 'bringing' => $check->bringing->number, 'at' => Time::iso($check->at),
                'by' => $check->by, 'totals' => $check->totals(),
            ], $checks),
        ];
    }

    /** @return list<array{act: string, why: string|null}> what may be begun, and why it would be refused now */
    private function may(Move $move): array
    {
        $may = [];
        foreach ($this->status->turns($move) as $act => $why) {
            $may[] = ['act' => $act, 'why' => null === $why ? null : $this->words->failure($why->reason, $why->fields)];
        }

        foreach (Acts::ofMove($move) as $act) {
            $may[] = ['act' => $act, 'why' => null];
        }

        return $may;
    }

    /** @return list<array{act: string, why: string|null}> */
    private function mayOfTray(Tray $tray): array
    {
        $may = [];
        foreach ($this->acts->ofTray($tray) as $act => $why) {
            $may[] = ['act' => $act, 'why' => null === $why ? null : $this->words->failure($why->reason, $why->fields)];
        }

        return $may;
    }

    /** @return array<string, mixed> */
    private static function bringing(Bringing $bringing): array
    {
        $restoredAt = $bringing->restoredAt();
        $putBackAt = $bringing->putBackAt();

        return [
            'number' => $bringing->number, 'aim' => $bringing->aim->value, 'trial' => $bringing->isTrial(),
            'merges' => $bringing->merges(), 'restored_at' => null === $restoredAt ? null : Time::iso($restoredAt),
            'put_back_at' => null === $putBackAt ? null : Time::iso($putBackAt),
        ];
    }

    /** @return array<string, mixed>|null what merging came to in the rehearsal */
    private function merge(Move $move, bool $isStale): ?array
    {
        $merge = $move->bringing()->rehearsal()['merge'] ?? null;

        return null === $merge ? null : [
            // Those that were rehearsed by an earlier version do not tell these.
            'around' => [], 'lost' => 0, 'loss_uncounted' => false, 'strangers' => 0, ...$merge, 'stale' => $isStale,
            'findings' => array_map(fn (array $finding): array => [
                'text' => $this->words->say('finding.'.$finding['code']),
                'subject' => str_replace(':', '', mb_scrub($finding['subject'])), 'count' => $finding['count'],
            ], $merge['findings'] ?? []),
        ];
    }

    /** @return array<string, mixed> no name of a customer, no number, nothing of chats */
    public function onTheWall(Tray $tray): array
    {
        return ['number' => $tray->number, 'waits' => ['how' => null] + $this->waitsOf($tray)];
    }

    /** @return array<string, mixed>|null what is to be done on the phone that receives before it is written to */
    private function lacking(Move $move): ?array
    {
        $lacking = $this->readiness->lackingToRestore($move);

        return null === $lacking ? null : $this->point(
            $lacking->point, $this->guides->of($this->seen->state($lacking->phone->serial)),
        );
    }

    /** @return list<array{offer: string, points: list<array<string, mixed>>}> what is to be done before one is taken */
    private function lackingFor(Move $move): array
    {
        $lacking = [];
        foreach (null === $move->bringing()->backup() ? $this->readiness->offers($move) : [] as $offer) {
            $points = $this->readiness->stepsToDo($move, $offer);
            if ([] !== $points) {
                $guides = $this->guides->of($this->seen->state($move->from()->serial));
                $lacking[] = [
                    'offer' => $offer->id(),
                    'points' => array_map(fn (Point $point): array => $this->point($point, $guides), $points),
                ];
            }
        }

        return $lacking;
    }

    /** @return array<string, mixed> */
    private function waitsOf(Tray $tray): array
    {
        $waits = $this->status->waits($tray);
        $since = $tray->waitsSince($waits->signature());

        return ['since' => null === $since ? null : Time::iso($since)] + $this->waits($waits);
    }

    /** @return array<string, mixed> */
    private function waits(Waits $waits): array
    {
        $key = str_starts_with($waits->key, '@') ? substr($waits->key, 1) : 'waits.'.$waits->key;

        return [
            'for' => $waits->for, 'since' => null, 'who' => $waits->who, 'tag' => $waits->tag,
            'move' => $waits->move?->place,
            'text' => $this->words->say($key, $waits->params),
            'how' => null === $waits->how ? null : $this->how($waits->how, $waits->params),
            'progress' => null === $waits->run || Waits::MACHINE !== $waits->for
                ? null
                : $this->progress->of($waits->run),
        ];
    }

    /** @param array<string, string|int> $params */
    private function how(string $key, array $params): string
    {
        return str_starts_with($key, 'failure.')
            ? $this->words->failure(substr($key, strlen('failure.')), $params)
            : $this->words->say($key, $params);
    }

    /**
     * @param array<string, list<array{say: string, picture: GuidePicture}>> $guides by id of a point
     *
     * @return array<string, mixed>
     */
    private function point(Point $point, array $guides): array
    {
        $words = 'point.'.$point->variant;
        $isToDo = Point::TO_DO === $point->status;

        return [
            'id' => $point->id, 'app' => $point->app, 'status' => $point->status,
            'who' => $point->who, 'severity' => $point->severity, 'told' => $point->isTold,
            'what' => $this->words->say($words.'.what', $point->params),
            'how' => $isToDo ? $this->words->say($words.'.how', $point->params) : null,
            'guide' => $isToDo ? $guides[$point->id] ?? null : null,
        ];
    }

    /** @return array<string, mixed> */
    private function told(StepTold $told): array
    {
        return [
            'step' => $told->step, 'what' => $this->words->say("point.$told->step.what"), 'at' => Time::iso($told->at),
            'by' => $this->words->who($told->by),
            'undo' => $told->isOpen() ? $this->words->say("point.{$told->step}_undone.how") : null,
        ];
    }

    /** @return array<string, mixed> */
    private function step(Step $step): array
    {
        return [
            'stage' => $step->stage->value, 'move' => $step->move?->place, 'at' => Time::iso($step->at),
            'by' => $this->words->who($step->by),
            'code' => $step->code, 'text' => $this->words->say('step.'.$step->code, $step->params),
        ];
    }
}
