<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\EyeTicked;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\HandOver\EyeCheck;
use Geschenk\App\Uncover\Noted;
use Geschenk\App\Uncover\Uncoverings;
use Geschenk\App\Uncover\What;
use Geschenk\App\View\EyeView;
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
        private TrayAnswer $answer,
        private Uncoverings $uncoverings,
    ) {
    }

    #[Route('', methods: ['GET'])]
    public function show(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $move = $this->open($number, $place);
        $seed = self::seed($request);
        $isUncovered = $request->query->getBoolean('uncovered')
            && $this->uncoverings->holds($request->getSession(), $user, What::eyes($move, $seed));

        return new JsonAnswer(
            $this->view->of($move, $seed, $isUncovered) ?? throw new NotFoundHttpException('nothing_checked'),
        );
    }

    /** The first screenful of both phones and the pictures that were drawn by a seed, and no others. */
    #[Route('/uncovered', methods: ['PUT'])]
    public function uncover(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $move = $this->open($number, $place);
        $seed = self::seed($request);
        $drawn = $this->view->drawn($move, $seed) ?? throw new NotFoundHttpException('nothing_checked');
        $backup = $move->backup() ?? throw new NotFoundHttpException('nothing_checked');
        $lease = $this->uncoverings->begin(
            $request->getSession(), $user, What::eyes($move, $seed, $drawn),
            new Noted('uncovered_drawn', 'covered_eyes', [
                'edition' => $move->edition, 'gives' => $backup->serial, 'receives' => $move->to()->serial,
                'pictures' => intdiv(count($drawn), 2), 'seed' => $seed,
            ]),
        );

        return new JsonAnswer(['covered' => false, 'lease' => $lease]);
    }

    #[Route('/uncovered', methods: ['DELETE'])]
    public function cover(int $number, int $place, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $move = $this->open($number, $place);
        $this->uncoverings->cover($request->getSession(), $user, What::eyes($move, self::seed($request)));

        return new JsonAnswer(['covered' => true, 'lease' => null]);
    }

    #[Route('/pictures/{side<gives|receives>}/{conversation<\d{1,12}>}/{message<\d{1,12}>}', methods: ['GET'])]
    public function picture(
        MoveAt $at,
        int $conversation,
        int $message,
        Request $request,
        #[CurrentUser] User $user,
    ): Response {
        $move = $this->open($at->tray, $at->place);
        $side = $request->attributes->getString('side');
        $piece = EyeView::piece($side, $conversation, $message);
        if (!$this->uncoverings->holds($request->getSession(), $user, What::eyes($move, 0), $piece)) {
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

        return $this->answer->of($number);
    }

    /** Behind the hand-over nobody compares any more. */
    private function open(int $number, int $place): Move
    {
        $move = $this->trays->move($number, $place);

        return null === $move->tray->closedAt() && null !== $move->bringing()->check()
            ? $move
            : throw new NotFoundHttpException('nothing_checked');
    }

    private static function seed(Request $request): int
    {
        return max(0, $request->query->getInt('seed'));
    }
}
