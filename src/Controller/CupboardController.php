<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Customer\Cupboard;
use Geschenk\App\Customer\Shown;
use Geschenk\App\Customer\SortedBy;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Http\Body\CupboardAsked;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\App\View\CupboardView;
use Geschenk\App\Work\Round\Nightly;
use Geschenk\App\Work\Round\RoundKind;
use Geschenk\App\Work\SecondPlace\PlaceWatch;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;

/** All that the shop keeps, and what it kept once: of whom and of what, and nothing that anybody wrote. */
final readonly class CupboardController
{
    public function __construct(
        private Cupboard $cupboard,
        private CupboardView $view,
        private Trays $trays,
        private Nightly $nightly,
        private PlaceInUse $place,
        private PlaceWatch $placeWatch,
    ) {
    }

    /** What is looked for is a customer's name or number: it is sent in the body, and so in no log of addresses. */
    #[Route('/api/cupboard/find', methods: ['POST'])]
    public function find(#[MapRequestPayload('json')] CupboardAsked $asked): JsonResponse
    {
        $counts = $this->cupboard->count($asked->words);
        $found = 0 === $counts[$asked->shown] ? [] : $this->cupboard->find(
            $asked->words, Shown::from($asked->shown), SortedBy::from($asked->sortedBy), $asked->descending,
            $asked->page,
        );

        return new JsonAnswer([
            'backups' => $this->view->rows($found), 'counts' => $counts,
            'page_size' => Cupboard::PAGE,
        ]);
    }

    /** What of it calls somebody: how many are not whole, and how many go this week; and the last round. */
    #[Route('/api/cupboard/calls', methods: ['GET'])]
    public function calls(): JsonResponse
    {
        $last = $this->nightly->last();
        $at = $last?->finishedAt();

        return new JsonAnswer([
            ...$this->cupboard->calls(), 'has_place' => $this->place->isSet(),
            'place_is_late' => $this->placeWatch->isLate(),
            'round' => null === $at || null === $last || RunState::Done !== $last->state() ? null : [
                'at' => Time::iso($at), 'read' => $last->itemsTotal,
            ],
            'rounds' => RoundKind::ROUNDS,
        ]);
    }

    /** One that is kept, or was; a safety copy is nobody's to look into. */
    #[Route('/api/cupboard/{backup}', methods: ['GET'])]
    public function show(string $backup): JsonResponse
    {
        return new JsonAnswer(
            ['has_place' => $this->place->isSet()] + $this->view->whole($this->trays->onRecord($backup)),
        );
    }
}
