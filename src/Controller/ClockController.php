<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Clock\ShopClock;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The clock that erasing goes by, and whether it is in doubt. */
final readonly class ClockController
{
    public function __construct(private ShopClock $shopClock, private ClockInterface $clock)
    {
    }

    #[Route('/api/clock', methods: ['GET'])]
    public function show(): JsonResponse
    {
        $doubt = $this->shopClock->doubt();
        [$shouldBe, $told] = [$doubt?->shouldBe(), $doubt?->told()];

        return new JsonAnswer(['now' => Time::iso($this->clock->now()), 'doubt' => null === $shouldBe ? null : [
            'should_be' => Time::iso($shouldBe), 'told' => Time::iso($told ?? $shouldBe),
        ]]);
    }

    /** A manager's: the date that is shown is right. */
    #[Route('/api/clock/confirm', methods: ['POST'])]
    public function confirm(#[CurrentUser] User $user): JsonResponse
    {
        $this->shopClock->confirm($user->getUserIdentifier());

        return $this->show();
    }
}
