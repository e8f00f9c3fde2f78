<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\EyeTicked;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Tray\EyeCheck;
use Geschenk\App\View\EyeView;
use Geschenk\App\View\TrayView;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** What a customer compares with their own eyes. Texts and pictures stay covered until they wish to see them. */
#[Route('/api/trays/{number<\d{1,9}>}/moves/{place<\d{1,3}>}/eyes')]
final readonly class EyeController
{
    public function __construct(
        private Trays $trays,
        private EyeView $view,
        private EyeCheck $eyes,
        private TrayView $trayView,
        private ShopLog $log,
    ) {
    }

    #[Route('', methods: ['GET'])]
    public function show(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $move = $this->open($number, $place);
        $isUncovered = $request->query->getBoolean('uncovered') && $this->isUncovered($request, $move, $user);

        return new JsonAnswer(
            $this->view->of($move, max(0, $request->query->getInt('seed')), $isUncovered)
                ?? throw new NotFoundHttpException('nothing_checked'),
        );
    }

    #[Route('/uncovered', methods: ['PUT'])]
    public function uncover(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $move = $this->open($number, $place);
        // In the log first: what can't be logged stays covered.
        $this->log->note($user->getUserIdentifier(), 'uncovered_eyes', $number, ['edition' => $move->edition]);
        $request->getSession()->set(self::mark($move, $user), true);

        return new JsonAnswer(['covered' => false]);
    }

    #[Route('/uncovered', methods: ['DELETE'])]
    public function cover(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $request->getSession()->remove(self::mark($this->open($number, $place), $user));

        return new JsonAnswer(['covered' => true]);
    }

    #[Route('/pictures/{side<gives|receives>}/{conversation<\d{1,12}>}/{message<\d{1,12}>}', methods: ['GET'])]
    public function picture(
        int $number,
        int $place,
        string $side,
        int $conversation,
        int $message,
        Request $request,
        #[CurrentUser] User $user,
    ): Response {
        $move = $this->open($number, $place);
        if (!$this->isUncovered($request, $move, $user)) {
            throw new NotFoundHttpException('covered');
        }
        $picture = $this->view->picture($move, $side, $conversation, $message)
            ?? throw new NotFoundHttpException('no_preview');

        return new Response($picture, 200, ['Content-Type' => 'image/jpeg']);
    }

    #[Route('/{point<order|last|pictures>}', methods: ['PUT'])]
    public function tick(
        int $number,
        int $place,
        string $point,
        #[MapRequestPayload('json')] EyeTicked $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->trays->move($number, $place);
        $this->eyes->tick($number, $place, $point, $told->same, $user->getUserIdentifier());

        return new JsonAnswer($this->trayView->whole($this->trays->get($number)));
    }

    /** Behind the hand-over nobody compares any more. */
    private function open(int $number, int $place): Move
    {
        $move = $this->trays->move($number, $place);

        return null === $move->tray->closedAt() && null !== $move->check()
            ? $move
            : throw new NotFoundHttpException('nothing_checked');
    }

    private function isUncovered(Request $request, Move $move, User $user): bool
    {
        return true === $request->getSession()->get(self::mark($move, $user));
    }

    /** Holds for one user and one check. */
    private static function mark(Move $move, User $user): string
    {
        return sprintf('eyes.%s.%d.%d', $user->getUserIdentifier(), $move->id(), $move->check()?->id() ?? 0);
    }
}
