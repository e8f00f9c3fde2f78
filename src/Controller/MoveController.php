<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\RunKind;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Input;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\Intake;
use Geschenk\App\View\TrayView;
use Geschenk\App\Work\RunDesk;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The work on one move. */
#[Route('/api/trays/{number<\d{1,9}>}/moves/{place<\d{1,3}>}')]
final readonly class MoveController
{
    public function __construct(
        private Trays $trays,
        private TrayView $view,
        private RunDesk $runs,
        private Intake $intake,
    ) {
    }

    /** Leaves the account out of the job, or takes it in again. */
    #[Route('', methods: ['PUT'])]
    public function change(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $this->trays->move($number, $place);
        $isOut = Input::of($request)->flag('left_out');
        $this->intake->leaveOut($number, $place, $isOut, $user->getUserIdentifier());

        return $this->answer($number, 200);
    }

    #[Route('/runs', methods: ['POST'])]
    public function ask(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $this->trays->move($number, $place);
        $input = Input::of($request);
        $kind = RunKind::tryFrom($input->text('kind')) ?? throw Refusal::because('no_such_work');
        $this->runs->ask(
            $number, $place, $kind, $user->getUserIdentifier(), $input->optionalText('confirmed_tag', 20),
            $input->secret('key'),
        );

        return $this->answer($number);
    }

    /** What becomes of something that the receiving side can't hold; the rehearsal is made anew with it. */
    #[Route('/choices/{rule<[a-z_]{1,40}>}', methods: ['PUT'])]
    public function choose(
        int $number,
        int $place,
        string $rule,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $choice = Input::of($request)->text('choice', 40);
        $this->runs->choose($number, $place, $rule, $choice, $user->getUserIdentifier());

        return $this->answer($number);
    }

    #[Route('/runs/{id<[0-9a-f-]{36}>}/go-on', methods: ['POST'])]
    public function goOn(
        int $number,
        int $place,
        string $id,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $key = '' === $request->getContent() ? null : Input::of($request)->secret('key');
        $this->runs->goOn($number, $place, $id, $user->getUserIdentifier(), $key);

        return $this->answer($number);
    }

    #[Route('/runs/{id<[0-9a-f-]{36}>}/stop', methods: ['POST'])]
    public function stop(int $number, int $place, string $id, #[CurrentUser] User $user): JsonResponse
    {
        $this->trays->move($number, $place);
        $this->runs->stop($number, $place, $id, $user->getUserIdentifier());

        return $this->answer($number);
    }

    private function answer(int $number, int $status = 202): JsonResponse
    {
        return new JsonAnswer($this->view->whole($this->trays->get($number)), $status);
    }
}
