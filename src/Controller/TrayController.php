<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Input;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Tray\HandOver;
use Geschenk\App\Tray\Intake;
use Geschenk\App\Tray\RunDesk;
use Geschenk\App\Tray\TrayStatus;
use Geschenk\App\Tray\TrayView;
use Geschenk\App\Work\RunKind;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

final readonly class TrayController
{
    public function __construct(private EntityManagerInterface $entities, private Trays $trays, private TrayView $view, private TrayStatus $status, private Intake $intake, private RunDesk $runs, private HandOver $handOver)
    {
    }

    /** All trays, those that wait for a person first. */
    #[Route('/api/trays', methods: ['GET'])]
    public function shelf(): JsonResponse
    {
        $tags = array_map($this->view->tag(...), $this->entities->getRepository(Tray::class)->findBy([], ['number' => 'DESC'], 200));

        return new JsonAnswer(['trays' => $tags]);
    }

    #[Route('/api/trays', methods: ['POST'])]
    public function open(Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $input = Input::of($request);
        if (!$input->flag('consent')) {
            throw new \DomainException('The customer’s consent is needed before anything is read from their phones.');
        }
        $tray = $this->intake->open($input->text('customer', 120), $input->text('contact', 120), $input->text('giving', 40), $input->text('receiving', 40), $user->getUserIdentifier());

        return new JsonAnswer($this->view->whole($tray), 201);
    }

    #[Route('/api/trays/{number<\d+>}', methods: ['GET'])]
    public function show(int $number): JsonResponse
    {
        return new JsonAnswer($this->view->whole($this->trays->get($number)));
    }

    #[Route('/api/trays/{number<\d+>}/readiness', methods: ['GET'])]
    public function readiness(int $number): JsonResponse
    {
        return new JsonAnswer(['phones' => $this->status->readiness($this->trays->get($number))]);
    }

    #[Route('/api/trays/{number<\d+>}/roles', methods: ['PUT'])]
    public function roles(int $number, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->get($number);
        $this->intake->give($tray, Input::of($request)->text('giving_tag', 12), $user->getUserIdentifier());

        return new JsonAnswer($this->view->whole($tray));
    }

    #[Route('/api/trays/{number<\d+>}/runs', methods: ['POST'])]
    public function ask(int $number, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->get($number);
        $input = Input::of($request);
        $kind = RunKind::tryFrom($input->text('kind')) ?? throw new \DomainException('There is no such work.');
        $this->runs->ask($tray, $kind, $user->getUserIdentifier(), $input->optionalText('confirmed_tag'), $input->secret('key'));

        return new JsonAnswer($this->view->whole($tray), 202);
    }

    /** What becomes of something that the receiving side can't hold; the rehearsal is made anew with it. */
    #[Route('/api/trays/{number<\d+>}/choices/{rule<[a-z_]{1,40}>}', methods: ['PUT'])]
    public function choose(int $number, string $rule, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->get($number);
        $this->runs->choose($tray, $rule, Input::of($request)->text('choice', 40), $user->getUserIdentifier());

        return new JsonAnswer($this->view->whole($tray), 202);
    }

    #[Route('/api/trays/{number<\d+>}/runs/{id}/go-on', methods: ['POST'])]
    public function goOn(int $number, string $id, Request $request): JsonResponse
    {
        $tray = $this->trays->get($number);
        $run = $this->entities->getRepository(Run::class)->findOneBy(['id' => $id, 'tray' => $tray]) ?? throw new NotFoundHttpException('There is no such run in this tray.');
        $this->runs->goOn($run, '' === $request->getContent() ? null : Input::of($request)->secret('key'));

        return new JsonAnswer($this->view->whole($tray), 202);
    }

    #[Route('/api/trays/{number<\d+>}/runs/{id}/stop', methods: ['POST'])]
    public function stop(int $number, string $id, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->get($number);
        $run = $this->entities->getRepository(Run::class)->findOneBy(['id' => $id, 'tray' => $tray]) ?? throw new NotFoundHttpException('There is no such run in this tray.');
        $this->runs->stop($run, $user->getUserIdentifier());

        return new JsonAnswer($this->view->whole($tray), 202);
    }

    #[Route('/api/trays/{number<\d+>}/hand-over', methods: ['POST'])]
    public function handOver(int $number, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->get($number);
        $this->handOver->close($tray, $user->getUserIdentifier());

        return new JsonAnswer($this->view->whole($tray));
    }
}
