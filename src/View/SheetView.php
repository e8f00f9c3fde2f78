<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Refusal;
use Geschenk\App\Shop;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\Words\Words;
use Geschenk\Core\Phone\Role;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;

/** What the hand-over sheet tells, in the customer's language: of each account what was read back, and nothing else. */
final readonly class SheetView
{
    public function __construct(
        private MoveFiles $files,
        private Phones $phones,
        private LossView $losses,
        private SwitchedView $switched,
        private Words $words,
        private LoggerInterface $logger,
        private EntityManagerInterface $entities,
        private SheetCode $code,
        private HandOver $handOver,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @return array<string, mixed>|null null as long as there is nothing to tell: nothing was checked, or backed up
     *                                   where that is all
     */
    public function of(Tray $tray): ?array
    {
        $moves = array_map(fn (Move $move): array => $this->move($move), $tray->moves());
        $bringings = array_map(static fn (Move $move): Bringing => $move->bringing(), $tray->moves());
        $checks = array_filter(array_map(static fn (Bringing $bringing): ?Check => $bringing->check(), $bringings));
        $isToTell = $tray->onlyBacksUp()
            ? [] !== array_filter($tray->moves(), static fn (Move $move): bool => null !== $move->backup())
            : [] !== $checks;
        if (!$isToTell && !$tray->isWithdrawn()) {
            return null;
        }
        $language = $tray->customer->language();

        return [
            'tray' => $tray, 'code' => $code = $this->code->of($tray),
            'foot' => $this->words->say('sheet.foot', [
                'tray' => $tray->number, 'customer' => $tray->customerName(), 'code' => $code,
            ], $language),
            'page' => $this->words->say('sheet.page', ['page' => '{PAGE_NUM}', 'pages' => '{PAGE_COUNT}'], $language),
            'language' => $language, 'zone' => Shop::ZONE, 'moves' => $moves,
            'only_backed_up' => $tray->onlyBacksUp(), 'from_kept' => !$tray->has(Role::Gives),
            'trial' => [] !== array_filter($bringings, static fn (Bringing $bringing): bool => $bringing->isTrial()),
            'complete' => count($checks) === count($moves)
                && [] === array_filter($checks, static fn (Check $check): bool => !$check->isComplete()),
            'phones' => array_map($this->phone(...), $tray->phones()),
            'switched' => $this->switched->of($tray, $language),
            'steps' => array_map(fn (Step $step): array => [
                'at' => $step->at, 'by' => $this->words->who($step->by, $language), 'edition' => $step->move?->edition,
                'text' => $this->words->say('step.'.$step->code, $step->params, $language),
            ], $tray->steps()),
            'kept_until' => $this->keptUntil($tray),
            'locked' => $this->locked($tray),
            'backups' => $this->kept($tray, Origin::Account), 'safety_copies' => $this->kept($tray, Origin::SafetyCopy),
        ];
    }

    /** The last day on which the backups are kept; the shop's rule as long as nothing was said. */
    private function keptUntil(Tray $tray): string
    {
        $until = $tray->keepUntil()?->modify('-1 second')
            ?? $this->clock->now()->modify(sprintf('+%d days', $this->handOver->keepDays($tray)));

        return $this->words->day($until, $tray->customer->language());
    }

    /** @return list<string> editions of what is under its customer's own password */
    private function locked(Tray $tray): array
    {
        $editions = [];
        foreach ($this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]) as $backup) {
            if (BackupState::Locked === $backup->state() && !$backup->isSafetyCopy()) {
                $editions[] = $backup->edition;
            }
        }

        return $editions;
    }

    /**
     * @return list<string> ids of all that the shop keeps of a tray, or has kept where all of it was erased: those that
     *                      were taken anew are there still
     */
    private function kept(Tray $tray, Origin $origin): array
    {
        $kept = $this->entities->getRepository(Backup::class)
            ->findBy(['tray' => $tray, 'origin' => $origin], ['counter' => 'ASC']);

        $told = array_filter($kept, static fn (Backup $one): bool => $one->isKept() || !$tray->keepsChats());

        return array_values(array_map(static fn (Backup $backup): string => $backup->id, $told));
    }

    /** @return array<string, mixed> */
    private function move(Move $move): array
    {
        $bringing = $move->bringing();
        $backup = $bringing->backup();
        $before = $bringing->wayBack();
        $language = $move->tray->customer->language();

        return [
            'edition' => $move->edition, 'number' => $backup->account ?? '', 'backup' => $backup,
            'totals' => $bringing->check()?->totals(), ...$this->lines($bringing),
            'phone_lost' => null === $before ? null : [
                'count' => $before->lost, 'tag' => $move->to()->tag, 'uncounted' => $before->lossUncounted,
            ],
            'names' => $bringing->wantsNames() ? $bringing->namesBrought() : null,
            'put_back' => null === $bringing->putBackAt() ? null : [
                'tag' => $move->to()->tag, 'at' => $bringing->putBackAt(),
            ],
            'losses' => $this->losses->all($bringing->rehearsal()['losses'] ?? [], [], $language),
            'brought' => $this->brought($move),
            'from_kept' => null === $backup || $move->tray->has(Role::Gives) ? null : [
                'at' => $backup->takenAt, 'tray' => $backup->tray->number,
            ],
        ];
    }

    /**
     * What came onto the phone in several goes, and how each was found; where one was all, that is told already.
     *
     * @return list<array{
     *     text: string, at: \DateTimeImmutable|null, put_back_at: \DateTimeImmutable|null,
     *     totals: array<string, mixed>|null,
     * }>
     */
    private function brought(Move $move): array
    {
        $language = $move->tray->customer->language();
        $goes = array_filter($move->bringings(), static fn (Bringing $one): bool => null !== $one->restoredAt());

        return count($goes) < 2 ? [] : array_map(fn (Bringing $one): array => [
            'text' => $this->words->say('bringing.'.($one->isTrial() ? 'trial' : $one->aim->value), [], $language),
            'at' => $one->restoredAt(), 'put_back_at' => $one->putBackAt(), 'totals' => $one->check()?->totals(),
        ], array_values($goes));
    }

    /**
     * The single conversations lie in files. What one of them can't tell any more is said to be so; how many arrived
     * stands in the records.
     *
     * @return array<string, mixed>
     */
    private function lines(Bringing $bringing): array
    {
        $move = $bringing->move;
        $none = ['conversations' => [], 'reasons' => [], 'damaged' => []];
        $check = $bringing->check();
        if (null === $check) {
            return $none + ['readable' => true];
        }
        try {
            $result = $this->files->result($check) ?? throw Refusal::because('check_spoilt');
            $overview = 0 === ($bringing->backup()->lost ?? 0)
                ? []
                : $this->files->plan($move)->overview();

            return [
                'conversations' => $result->conversations(), 'reasons' => $result->reasons(), 'readable' => true,
                'damaged' => array_filter($overview, static fn (array $row): bool => $row['lost'] > 0),
            ];
        } catch (\Exception $error) {
            $this->logger->error('The lines of a check can’t be read.', [
                'tray' => $move->tray->number, 'exception' => $error,
            ]);

            return $none + ['readable' => false];
        }
    }

    /** @return array<string, mixed> */
    private function phone(TrayPhone $phone): array
    {
        $state = $this->phones->find($phone->serial)?->state();

        return [
            'tag' => $phone->tag, 'gives' => Role::Gives === $phone->role(),
            'name' => null === $state ? $phone->serial : $state->maker.' '.$state->model,
            'system' => null === $state ? '' : $state->platform->properName().' '.$state->osVersion,
        ];
    }
}
