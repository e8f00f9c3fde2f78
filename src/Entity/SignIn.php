<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;

/**
 * A session of somebody who signed in. Without its record a session is none, so that taking it away ends it. It is
 * found by the hash of the session's id, with which nobody takes the session over.
 */
#[ORM\Entity]
class SignIn
{
    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column]
    private \DateTimeImmutable $usedAt;

    /**
     * @param string $session SHA-256 of the session's id
     * @param string $address whence it was asked for; an IP address
     */
    public function __construct(
        #[ORM\Column(length: 64, unique: true)] public readonly string $session,
        #[ORM\Column(length: 60)] public readonly string $username,
        #[ORM\Column(length: 45)] public readonly string $address,
        #[ORM\Column] public readonly \DateTimeImmutable $begunAt,
    ) {
        $this->usedAt = $begunAt;
    }

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The sign-in is not stored yet.');
    }

    public function usedAt(): \DateTimeImmutable
    {
        return $this->usedAt;
    }
}
