<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Errand;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\Backups;
use Geschenk\App\Http\Body\CodeTold;
use Geschenk\App\Http\Body\Customer;
use Geschenk\App\Http\Body\EraseConfirmed;
use Geschenk\App\Http\Body\HandedOver;
use Geschenk\App\Http\Body\NewTray;
use Geschenk\App\Http\Body\Reopening;
use Geschenk\App\Http\Body\Roles;
use Geschenk\App\Http\Body\Withdrawn;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\Tray\Intake\Intake;
use Geschenk\App\Tray\Intake\Opening;
use Geschenk\App\View\SheetCode;
use Geschenk\App\View\ShelfPictures;
use Geschenk\App\View\TrayView;
use Geschenk\App\Words\Words;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\RunDesk;
use Geschenk\App\Work\Withdrawal;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The shelf, and what belongs to a tray as a whole. */
final readonly class TrayController
{
    public function __construct(
        private Trays $trays,
        private ShelfPictures $shelf,
        private TrayView $view,
        private TrayAnswer $answer,
        private Intake $intake,
        private HandOver $handOver,
        private Erasing $erasing,
        private SheetCode $codes,
        private ShopLog $log,
        private Words $words,
        private Withdrawal $withdrawal,
        private RunDesk $runs,
    ) {
    }

    #[Route('/api/trays', methods: ['GET'])]
    public function shelf(Request $request): JsonResponse
    {
        return new JsonAnswer($this->shelf->page($request->query->getInt('behind') ?: null));
    }

    #[Route('/api/trays', methods: ['POST'])]
    public function open(#[MapRequestPayload('json')] NewTray $asked, #[CurrentUser] User $user): JsonResponse
    {
        $errand = null === $asked->errand
            ? Errand::Move
            : Errand::tryFrom(trim($asked->errand)) ?? throw Refusal::because('no_such_errand');
        $tray = $this->intake->open(new Opening(
            trim($asked->customer), trim($asked->contact), trim($asked->giving), trim($asked->receiving),
            $asked->language ?? $user->language(), $errand, $asked->backups, $asked->known,
        ), $user->getUserIdentifier());

        return $this->answer->of($tray->number, 201);
    }

    #[Route('/api/trays/{number<\d{1,9}>}', methods: ['GET'])]
    public function show(int $number): JsonResponse
    {
        return $this->answer->of($number);
    }

    #[Route('/api/trays/{number<\d{1,9}>}/readiness', methods: ['GET'])]
    public function readiness(int $number): JsonResponse
    {
        return new JsonAnswer(['phones' => $this->view->readiness($this->trays->get($number))]);
    }

    #[Route('/api/trays/{number<\d{1,9}>}/roles', methods: ['PUT'])]
    public function roles(
        int $number,
        #[MapRequestPayload('json')] Roles $roles,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->get($number);
        $this->intake->give($number, trim($roles->givingTag), $user->getUserIdentifier());

        return $this->answer->of($number);
    }

    #[Route('/api/trays/{number<\d{1,9}>}/hand-over', methods: ['POST'])]
    public function handOver(
        int $number,
        #[CurrentUser] User $user,
        #[MapRequestPayload('json')] ?HandedOver $told = null,
    ): JsonResponse {
        $this->trays->get($number);
        $this->handOver->close(
            $number, $user->getUserIdentifier(), $told?->keepUntil, array_values(array_filter(
                $told->open ?? [], is_string(...),
            )),
        );

        return $this->answer->of($number);
    }

    /** Several accounts at once: all are begun, or none. */
    #[Route('/api/trays/{number<\d{1,9}>}/backups', methods: ['POST'])]
    public function backUp(
        int $number,
        #[MapRequestPayload('json')] #[\SensitiveParameter] Backups $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->get($number);
        $this->runs->backUp($number, $asked->told(), $user->getUserIdentifier());

        return $this->answer->of($number, 202);
    }

    /** The way out at every stage: the customer withdraws, or the job ends without a hand-over. */
    #[Route('/api/trays/{number<\d{1,9}>}/withdraw', methods: ['POST'])]
    public function withdraw(
        int $number,
        #[MapRequestPayload('json')] Withdrawn $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->get($number);
        $this->withdrawal->end($number, $told->number, $told->keep, $user->getUserIdentifier());

        return $this->answer->of($number);
    }

    /** Who the customer is, how to reach them and in which language: as long as the tray is open. */
    #[Route('/api/trays/{number<\d{1,9}>}/customer', methods: ['PUT'])]
    public function correct(
        int $number,
        #[MapRequestPayload('json')] Customer $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->get($number);
        $this->intake->correct(
            $number, trim($told->customer), trim($told->contact), $told->language, $user->getUserIdentifier(),
        );

        return $this->answer->of($number);
    }

    /** Until when what is kept of the chats is kept. */
    #[Route('/api/trays/{number<\d{1,9}>}/keeping', methods: ['PUT'])]
    public function keep(
        int $number,
        #[MapRequestPayload('json')] HandedOver $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->get($number);
        $this->handOver->keep($number, $told->keepUntil ?? '', $user->getUserIdentifier());

        return $this->answer->of($number);
    }

    #[Route('/api/trays/{number<\d{1,9}>}/erase', methods: ['POST'])]
    public function erase(
        int $number,
        #[MapRequestPayload('json')] EraseConfirmed $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->get($number);
        $this->erasing->ask($number, $told->number, $user->getUserIdentifier());

        return $this->answer->of($number, 202);
    }

    /** To bring its chats once more, to the same phone or another. */
    #[Route('/api/trays/{number<\d{1,9}>}/reopen', methods: ['POST'])]
    public function reopen(
        int $number,
        #[CurrentUser] User $user,
        #[MapRequestPayload('json')] ?Reopening $told = null,
    ): JsonResponse {
        $this->trays->get($number);
        $receiving = trim($told->receiving ?? '');
        $this->handOver->reopen($number, '' === $receiving ? null : $receiving, $user->getUserIdentifier());

        return $this->answer->of($number);
    }

    /** Whether a sheet that somebody brings tells what the records hold. */
    #[Route('/api/trays/{number<\d{1,9}>}/sheet-code', methods: ['POST'])]
    public function sheetCode(
        int $number,
        #[MapRequestPayload('json')] CodeTold $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $found = $this->codes->find($this->trays->get($number), $told->code);
        $this->log->note($user->getUserIdentifier(), 'sheet_compared', $number, [
            'is' => null === $found ? 'other' : 'same',
        ]);

        return new JsonAnswer([
            'same' => null !== $found, 'text' => $this->words->say(...SheetCode::said($found)),
            'sums' => array_map(
                fn (array $said): string => $this->words->say($said[0], $said[1]), $found['sums'] ?? [],
            ),
        ]);
    }
}
