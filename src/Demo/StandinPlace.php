<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\Standin\Place\SecondDisk;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The stand-in desk: the hand at the switch of the second disk. */
#[Route('/api/standin/second-disk')]
final readonly class StandinPlace
{
    public function __construct(private SecondDisk $disk, private ShopLog $log)
    {
    }

    #[Route('', methods: ['GET'])]
    public function show(): JsonResponse
    {
        return new JsonAnswer(['is_made' => $this->disk->isMade(), 'is_on' => $this->disk->isOn()]);
    }

    #[Route('/{turn<on|off>}', methods: ['POST'])]
    public function act(string $turn, #[CurrentUser] User $user): JsonResponse
    {
        $this->disk->isMade() ?: throw new NotFoundHttpException('no_second_disk');
        'on' === $turn ? $this->disk->switchOn() : $this->disk->switchOff();
        $this->log->note($user->getUserIdentifier(), 'second_disk', null, ['hands' => 'switch '.$turn]);

        return $this->show();
    }
}
