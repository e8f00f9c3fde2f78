<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\App\View\SecondPlaceView;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\App\Work\SecondPlace\OurPlace;
use Geschenk\App\Work\SecondPlace\PlaceWatch;
use Geschenk\App\Work\SecondPlace\PlacingKind;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Where copies of all that is kept lie besides, and how things stand there. */
final readonly class SecondPlaceController
{
    public function __construct(
        private PlaceInUse $inUse,
        private PlaceWatch $watch,
        private OurPlace $ours,
        private KeepingDesk $desk,
        private Records $records,
        private ShopLog $log,
        private SecondPlaceView $view,
    ) {
    }

    #[Route('/api/second-place', methods: ['GET'])]
    public function show(): JsonResponse
    {
        try {
            $place = $this->inUse->isSet() ? $this->inUse->place() : null;
        } catch (PlaceFailure $failure) {
            $place = $failure;
        }

        return new JsonAnswer($this->view->of($place, $this->watch->last(), $this->watch->isLate()));
    }

    /** Has all that is not there brought there now. */
    #[Route('/api/second-place/runs', methods: ['POST'])]
    public function ask(#[CurrentUser] User $user): JsonResponse
    {
        $this->desk->askOfShop(PlacingKind::name(), $user->getUserIdentifier());

        return $this->accepted();
    }

    /** Has that go on, rest or end. */
    #[Route('/api/second-place/runs/{id<[0-9a-f-]{36}>}/{act<go-on|pause|cancel>}', methods: ['POST'])]
    public function act(string $id, string $act, #[CurrentUser] User $user): JsonResponse
    {
        $this->desk->act(null, $id, RunAct::from(strtr($act, '-', '_')), $user->getUserIdentifier());

        return $this->accepted();
    }

    /** Forgets it: another one is begun with the next copy. What lies at the old one is not touched. */
    #[Route('/api/second-place/leave', methods: ['POST'])]
    public function leave(#[CurrentUser] User $user): JsonResponse
    {
        $this->records->change(function () use ($user): void {
            if (true === $this->watch->last()?->state()->rests() || null === $this->watch->last()) {
                $this->ours->leave();
                $this->log->noteWithFlush($user->getUserIdentifier(), 'place_left', null, []);

                return;
            }
            throw Refusal::because('place_busy');
        });

        return $this->show();
    }

    private function accepted(): JsonResponse
    {
        $answer = $this->show();
        $answer->setStatusCode(202);

        return $answer;
    }
}
