<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Entity\SignIn;
use Geschenk\App\Http\Time;

/** A session as the API shows it. */
final readonly class SignInView
{
    /**
     * @param int|null $own number of the session that asks
     *
     * @return array{number: int, begun_at: string, used_at: string, address: string, own: bool}
     */
    public function of(SignIn $signIn, ?int $own): array
    {
        return [
            'number' => $signIn->id(), 'begun_at' => Time::iso($signIn->begunAt),
            'used_at' => Time::iso($signIn->usedAt()), 'address' => $signIn->address, 'own' => $signIn->id() === $own,
        ];
    }
}
