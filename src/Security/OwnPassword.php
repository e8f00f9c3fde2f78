<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\User;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Refusal;

/** Asks once more who is there, before something that an open page must not be enough for. */
final readonly class OwnPassword
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Passwords $passwords,
        private SignInAttempts $attempts,
        private ShopLog $log,
    ) {
    }

    /** @throws Refusal when it is another one, or too many were tried: nobody guesses faster here than at the door */
    public function ensure(string $name, #[\SensitiveParameter] string $password, string $address): void
    {
        if ($this->attempts->count($name, $address) > 0) {
            throw Refusal::because('too_many_guesses');
        }
        $user = $this->entities->getRepository(User::class)->findOneBy(['username' => $name]);
        if (null === $user || !$this->passwords->isOf($user, $password)) {
            $this->log->note($name, 'own_password_refused', null, ['address' => $address]);
            throw Refusal::because('own_password_wrong');
        }
        $this->attempts->succeeded($name, $address);
    }
}
