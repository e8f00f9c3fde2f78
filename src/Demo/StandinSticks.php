<?php

declare(strict_types=1);

namespace Geschenk\App\Demo;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\Standin\Stick\Drawer;
use Geschenk\Standin\Stick\FolderStick;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** The stand-in desk: the hands at the stand-in sticks. */
#[Route('/api/standin/sticks')]
final readonly class StandinSticks
{
    /** Of what is free on it, when it is pulled out by itself in the middle of the next copy. */
    private const IN_THE_MIDDLE = 300_000;

    public function __construct(private Drawer $drawer, private ShopLog $log)
    {
    }

    #[Route('', methods: ['GET'])]
    public function sticks(): JsonResponse
    {
        return new JsonAnswer(['sticks' => array_map(self::view(...), $this->drawer->all())]);
    }

    #[Route('/{stick<[a-z0-9-]{1,80}>}/{hand<put-in|pull-out|pull-in-the-middle>}', methods: ['POST'])]
    public function act(string $stick, string $hand, #[CurrentUser] User $user): JsonResponse
    {
        $one = $this->drawer->find($stick) ?? throw new NotFoundHttpException('no_such_stick');
        match ($hand) {
            'put-in' => $one->plug(),
            'pull-out' => $one->pull(),
            default => $one->pullAfter($one->used() + self::IN_THE_MIDDLE),
        };
        $this->log->note($user->getUserIdentifier(), 'stick', null, ['stick' => $one->label(), 'hands' => $hand]);

        return new JsonAnswer(self::view($one));
    }

    /** @return array<string, mixed> */
    private static function view(FolderStick $stick): array
    {
        return [
            'id' => $stick->id(), 'label' => $stick->label(), 'is_in' => $stick->isThere(), 'bytes' => $stick->bytes(),
            'free_bytes' => $stick->freeBytes(), 'said' => $stick->said(),
        ];
    }
}
