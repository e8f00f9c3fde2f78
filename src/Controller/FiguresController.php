<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\User;
use Geschenk\App\Figures\Span;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\View\FiguresView;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpFoundation\StreamedResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** What the shop's jobs come to, for the manager: no customer is in it. */
final readonly class FiguresController
{
    private const MONTHS = 12;

    public function __construct(private FiguresView $view, private ShopLog $log, private ClockInterface $clock)
    {
    }

    #[Route('/api/figures', methods: ['GET'])]
    public function show(Request $request): JsonResponse
    {
        return new JsonAnswer($this->view->of($this->span($request)));
    }

    /** A line for each job, for a spreadsheet. */
    #[Route('/api/figures.csv', methods: ['GET'])]
    public function table(Request $request, #[CurrentUser] User $user): Response
    {
        $span = $this->span($request);
        $this->log->note($user->getUserIdentifier(), 'figures_taken');
        $name = sprintf('figures-%s.csv', $this->clock->now()->format('Y-m-d'));

        return new StreamedResponse(function () use ($span): void {
            foreach ($this->view->table($span) as $line) {
                echo $line;
            }
        }, headers: [
            'Content-Type' => 'text/csv; charset=UTF-8; header=present',
            'Content-Disposition' => 'attachment; filename="'.$name.'"',
        ]);
    }

    private function span(Request $request): Span
    {
        return Span::ofMonths($request->query->getInt('months', self::MONTHS), $this->clock->now());
    }
}
