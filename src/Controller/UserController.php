<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\SignIn;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\GivenPassword;
use Geschenk\App\Http\Body\MaySignIn;
use Geschenk\App\Http\Body\NewUser;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Security\OwnPassword;
use Geschenk\App\Security\SignIns;
use Geschenk\App\Security\SignInView;
use Geschenk\App\Security\Staff;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Who works here, and who is signed in; for the manager. */
final readonly class UserController
{
    private const NAME = '/{name<[a-z][a-z0-9._-]{0,59}>}';

    public function __construct(
        private Staff $staff,
        private SignIns $signIns,
        private SignInView $view,
        private OwnPassword $own,
    ) {
    }

    #[Route('/api/users', methods: ['GET'])]
    public function list(Request $request): JsonResponse
    {
        return $this->answer($request);
    }

    #[Route('/api/users', methods: ['POST'])]
    public function add(
        #[MapRequestPayload('json')] NewUser $asked,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $by = $user->getUserIdentifier();
        $this->own->ensure($by, $asked->ownPassword, (string) $request->getClientIp());
        $this->staff->add(trim($asked->name), $asked->displayName, $asked->role, $asked->password, $by);

        return $this->answer($request, 201);
    }

    #[Route('/api/users'.self::NAME.'/password', methods: ['PUT'])]
    public function password(
        string $name,
        #[MapRequestPayload('json')] GivenPassword $asked,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $by = $user->getUserIdentifier();
        $this->own->ensure($by, $asked->ownPassword, (string) $request->getClientIp());
        $this->staff->changePassword($name, $asked->password, $by);

        return $this->answer($request);
    }

    #[Route('/api/users'.self::NAME, methods: ['PUT'])]
    public function disable(
        string $name,
        #[MapRequestPayload('json')] MaySignIn $asked,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $this->staff->disable($name, $asked->disabled, $user->getUserIdentifier());

        return $this->answer($request);
    }

    #[Route('/api/users'.self::NAME.'/sessions/{number<\d{1,9}>}', methods: ['DELETE'])]
    public function end(string $name, int $number, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $this->staff->endSession($name, $number, $user->getUserIdentifier());

        return $this->answer($request);
    }

    private function answer(Request $request, int $status = 200): JsonResponse
    {
        $sessions = [];
        foreach ($this->signIns->open() as $signIn) {
            $sessions[$signIn->username][] = $signIn;
        }
        $own = $this->signIns->numberOf($request->getSession());
        $users = array_map(fn (User $user): array => [
            'name' => $user->getUserIdentifier(), 'display_name' => $user->displayName(), 'role' => $user->role(),
            'disabled' => $user->isDisabled(),
            'sessions' => array_map(
                fn (SignIn $signIn): array => $this->view->of($signIn, $own),
                $sessions[$user->getUserIdentifier()] ?? [],
            ),
        ], $this->staff->all());

        return new JsonAnswer(['users' => $users], $status);
    }
}
