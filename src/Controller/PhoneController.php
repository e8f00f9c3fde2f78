<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\View\PhoneView;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;

final readonly class PhoneController
{
    public function __construct(private Phones $phones, private PhoneView $view)
    {
    }

    /** The phones on the bench, as they were seen last; what one holds is told of those in an open tray alone. */
    #[Route('/api/phones', methods: ['GET'])]
    public function bench(): JsonResponse
    {
        $phones = $this->phones->onBench();
        $serials = array_map(static fn (Phone $phone): string => $phone->serial, $phones);
        $holdings = $this->phones->gather($serials);
        $trays = $this->phones->traysOf($serials);
        $inUse = $this->phones->inUse($serials);

        return new JsonAnswer(['phones' => array_map(fn (string $serial): array => [
            'live' => $this->view->live($serial, isset($trays[$serial]) ? $holdings[$serial] ?? [] : null),
            'tray' => $inUse[$serial] ?? null,
        ], $serials)]);
    }
}
