<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Tray\Intake;
use Geschenk\App\View\PhoneView;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

final readonly class PhoneController
{
    public function __construct(private Phones $phones, private PhoneView $view, private Intake $intake)
    {
    }

    /** The phones on the bench, as they were seen last. */
    #[Route('/api/phones', methods: ['GET'])]
    public function bench(): JsonResponse
    {
        $phones = $this->phones->onBench();
        $serials = array_map(static fn (Phone $phone): string => $phone->serial, $phones);
        $holdings = $this->phones->gather($serials);
        $trays = $this->intake->traysOf($serials);

        return new JsonAnswer(['phones' => array_map(fn (string $serial): array => [
            'live' => $this->view->live($serial, $holdings[$serial] ?? []), 'tray' => $trays[$serial] ?? null,
        ], $serials)]);
    }
}
