<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\Chosen;
use Geschenk\App\Http\Body\KeyTold;
use Geschenk\App\Http\Body\LeftOut;
use Geschenk\App\Http\Body\NewRun;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\Intake\Intake;
use Geschenk\App\Tray\Intake\TellingSteps;
use Geschenk\App\Work\RunDesk;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The work on one move. */
#[Route('/api/trays/{number<\d{1,9}>}/moves/{place<\d{1,3}>}')]
final readonly class MoveController
{
    public function __construct(
        private Trays $trays,
        private TrayAnswer $answer,
        private RunDesk $runs,
        private Intake $intake,
        private TellingSteps $steps,
    ) {
    }

    /** Leaves the account out of the job, or takes it in again. */
    #[Route('', methods: ['PUT'])]
    public function change(
        int $number,
        int $place,
        #[MapRequestPayload('json')] LeftOut $account,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->intake->leaveOut($number, $place, $account->leftOut, $user->getUserIdentifier());

        return $this->answer->of($number);
    }

    #[Route('/runs', methods: ['POST'])]
    public function ask(
        MoveAt $at,
        #[MapRequestPayload('json')] NewRun $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->runs->ask($at, $asked->kind, $user->getUserIdentifier(), new Asked(
            self::told($asked->confirmedTag), $asked->replaces, $asked->unreadable, self::told($asked->offer),
            self::told($asked->key),
        ));

        return $this->answer->of($at->tray, 202);
    }

    /** What becomes of something that the receiving side can't hold; the rehearsal is made anew with it. */
    #[Route('/choices/{rule<[a-z_]{1,40}>}', methods: ['PUT'])]
    public function choose(
        MoveAt $at,
        string $rule,
        #[MapRequestPayload('json')] Chosen $chosen,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->runs->choose($at, $rule, trim($chosen->choice), $user->getUserIdentifier());

        return $this->answer->of($at->tray, 202);
    }

    /** Brings what the newest check found missing. */
    #[Route('/missing', methods: ['POST'])]
    public function bringMissing(MoveAt $at, #[CurrentUser] User $user): JsonResponse
    {
        $this->runs->bringMissing($at, $user->getUserIdentifier());

        return $this->answer->of($at->tray, 202);
    }

    /** Brings what a trial left for later. */
    #[Route('/rest', methods: ['POST'])]
    public function bringRest(MoveAt $at, #[CurrentUser] User $user): JsonResponse
    {
        $this->runs->bringRest($at, $user->getUserIdentifier());

        return $this->answer->of($at->tray, 202);
    }

    #[Route('/runs/{id<[0-9a-f-]{36}>}/go-on', methods: ['POST'])]
    public function goOn(
        int $number,
        int $place,
        string $id,
        #[MapRequestPayload('json')] ?KeyTold $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->runs->goOn($number, $place, $id, $user->getUserIdentifier(), self::told($told?->key));

        return $this->answer->of($number, 202);
    }

    #[Route('/runs/{id<[0-9a-f-]{36}>}/pause', methods: ['POST'])]
    public function pause(int $number, int $place, string $id, #[CurrentUser] User $user): JsonResponse
    {
        $this->trays->move($number, $place);
        $this->runs->pause($number, $place, $id, $user->getUserIdentifier());

        return $this->answer->of($number, 202);
    }

    #[Route('/runs/{id<[0-9a-f-]{36}>}/cancel', methods: ['POST'])]
    public function cancel(int $number, int $place, string $id, #[CurrentUser] User $user): JsonResponse
    {
        $this->trays->move($number, $place);
        $this->runs->cancel($number, $place, $id, $user->getUserIdentifier());

        return $this->answer->of($number, 202);
    }

    /** A step of its way in that no phone shows: done, not done after all, or undone again. */
    #[Route('/told/{step<[a-z_]{1,40}>}/{said<done|taken-back|undone>}', methods: ['POST'])]
    public function tell(MoveAt $at, string $step, string $said, #[CurrentUser] User $user): JsonResponse
    {
        $by = $user->getUserIdentifier();
        match ($said) {
            'taken-back' => $this->steps->takeBack($at, $step, $by),
            'undone' => $this->steps->undone($at, $step, $by),
            default => $this->steps->tell($at, $step, $by),
        };

        return $this->answer->of($at->tray);
    }

    /** What was told at all; a password may begin or end with a space. */
    private static function told(?string $text): ?string
    {
        return null === $text || '' === trim($text) ? null : $text;
    }
}
