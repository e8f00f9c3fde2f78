<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Customer\Cupboard;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Records;
use Geschenk\App\Tray\Standing\Shelf;
use Geschenk\App\View\TrayView;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

/** For a screen above the bench, which everybody in the shop can read: tags and what to do, no names and no numbers. */
final readonly class WallController
{
    public function __construct(
        private Shelf $shelf,
        private TrayView $view,
        private Records $records,
        private Cupboard $cupboard,
    ) {
    }

    #[Route('/api/wall', methods: ['GET'])]
    public function wall(): JsonResponse
    {
        return new JsonAnswer([
            'trays' => $this->records->look(
                fn (): array => array_map($this->view->onTheWall(...), $this->shelf->open()),
            ),
            'broken' => $this->cupboard->calls()['broken'],
        ]);
    }
}
