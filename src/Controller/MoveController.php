<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\Chosen;
use Geschenk\App\Http\Body\KeyTold;
use Geschenk\App\Http\Body\LeftOut;
use Geschenk\App\Http\Body\NewRun;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Tray\Intake;
use Geschenk\App\Work\RunDesk;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapQueryParameter;
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
        int $number,
        int $place,
        #[MapRequestPayload('json')] NewRun $asked,
        #[CurrentUser] User $user,
        #[MapQueryParameter] ?string $after = null,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->runs->ask($number, $place, $asked->kind, $user->getUserIdentifier(), new Asked(
            self::told($asked->confirmedTag), $asked->replaces, $asked->unreadable, self::told($asked->offer),
            self::told($asked->key),
        ), $after);

        return $this->answer->of($number, 202);
    }

    /** What becomes of something that the receiving side can't hold; the rehearsal is made anew with it. */
    #[Route('/choices/{rule<[a-z_]{1,40}>}', methods: ['PUT'])]
    public function choose(
        int $number,
        int $place,
        string $rule,
        #[MapRequestPayload('json')] Chosen $chosen,
        #[CurrentUser] User $user,
        #[MapQueryParameter] ?string $after = null,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->runs->choose($number, $place, $rule, trim($chosen->choice), $user->getUserIdentifier(), $after);

        return $this->answer->of($number, 202);
    }

    /** Brings what the newest check found missing. */
    #[Route('/missing', methods: ['POST'])]
    public function bringMissing(
        int $number,
        int $place,
        #[CurrentUser] User $user,
        #[MapQueryParameter] ?string $after = null,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->runs->bringMissing($number, $place, $user->getUserIdentifier(), $after);

        return $this->answer->of($number, 202);
    }

    /** Brings what a trial left for later. */
    #[Route('/rest', methods: ['POST'])]
    public function bringRest(
        int $number,
        int $place,
        #[CurrentUser] User $user,
        #[MapQueryParameter] ?string $after = null,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->runs->bringRest($number, $place, $user->getUserIdentifier(), $after);

        return $this->answer->of($number, 202);
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

    /** What was told at all; a password may begin or end with a space. */
    private static function told(?string $text): ?string
    {
        return null === $text || '' === trim($text) ? null : $text;
    }
}
