<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Uncover\Uncoverings;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** A page that shows something uncovered says that it is there still, or that it is left. */
#[Route('/api/uncoverings/{id<[0-9a-f]{32}>}')]
final readonly class UncoveringController
{
    public function __construct(private Uncoverings $uncoverings)
    {
    }

    #[Route('', methods: ['PUT'])]
    public function stay(string $id, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        return new JsonAnswer(['covered' => !$this->uncoverings->stays($request->getSession(), $user, $id)]);
    }

    #[Route('', methods: ['DELETE'])]
    public function end(string $id, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $this->uncoverings->end($request->getSession(), $user, $id);

        return new JsonAnswer(['covered' => true]);
    }
}
