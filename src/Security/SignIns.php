<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\SignIn;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\Session\SessionInterface;

/** The sessions of those who are signed in: listed, and ended one by one. */
final readonly class SignIns
{
    /** Seconds: a session ends after half an hour without a request, and after twelve hours in any case. */
    public const IDLE = 1_800;
    public const LONGEST = 43_200;
    /** Use is noted at most so often, so that not every request writes. */
    private const NOTED_EVERY = 60;

    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    public function begin(SessionInterface $session, string $username, string $address): void
    {
        $this->sweep();
        // Empty and with an id of its own, whatever a browser sent.
        $session->start();
        $session->invalidate();
        $hash = self::hash($session->getId());
        $this->entities->persist(new SignIn($hash, $username, $address, $this->clock->now()));
        $this->entities->flush();
    }

    /** @return int|null null of a session that is none any more */
    public function numberOf(SessionInterface $session): ?int
    {
        return $this->find($session->getId())?->id();
    }

    /**
     * Whether a session goes on; that it does is noted.
     *
     * @param string $id as a browser sent it
     */
    public function goesOn(string $id): bool
    {
        $signIn = $this->find($id);
        if (null === $signIn || !$this->isOpen($signIn)) {
            return false;
        }
        if ($this->since($signIn->usedAt()) > self::NOTED_EVERY) {
            $this->entities->getConnection()->executeStatement(
                'UPDATE sign_in SET used_at = ? WHERE id = ?',
                [$this->clock->now()->format('Y-m-d H:i:s'), $signIn->id()],
            );
        }

        return true;
    }

    /**
     * @param string|null $username null for those of everybody
     *
     * @return list<SignIn> open ones, the newest first
     */
    public function open(?string $username = null): array
    {
        $found = $this->entities->getRepository(SignIn::class)
            ->findBy(null === $username ? [] : ['username' => $username], ['id' => 'DESC']);

        return array_values(array_filter($found, $this->isOpen(...)));
    }

    /** @return SignIn|null the one that was ended; null when there is none of that user with that number */
    public function end(string $username, int $number): ?SignIn
    {
        $signIn = $this->entities->find(SignIn::class, $number);
        if (null === $signIn || $signIn->username !== $username || !$this->isOpen($signIn)) {
            return null;
        }
        $this->entities->remove($signIn);
        $this->entities->flush();

        return $signIn;
    }

    /** @param string $id of a session, as a browser sent it */
    public function forget(string $id): void
    {
        $this->entities->createQuery('DELETE FROM '.SignIn::class.' s WHERE s.session = :session')
            ->setParameter('session', self::hash($id))->execute();
    }

    public function endAllOf(string $username): void
    {
        $this->entities->createQuery('DELETE FROM '.SignIn::class.' s WHERE s.username = :name')
            ->setParameter('name', $username)->execute();
    }

    /** A clock that was set back far makes no session longer. */
    private function isOpen(SignIn $signIn): bool
    {
        $age = $this->since($signIn->begunAt);
        $idle = $this->since($signIn->usedAt());

        return min($age, $idle) >= -self::NOTED_EVERY && $age <= self::LONGEST && $idle <= self::IDLE;
    }

    /** What ended by itself is not kept. */
    private function sweep(): void
    {
        foreach ($this->entities->getRepository(SignIn::class)->findAll() as $signIn) {
            if (!$this->isOpen($signIn)) {
                $this->entities->remove($signIn);
            }
        }
    }

    private function find(string $id): ?SignIn
    {
        return $this->entities->getRepository(SignIn::class)->findOneBy(['session' => self::hash($id)]);
    }

    private static function hash(string $id): string
    {
        return hash('sha256', $id);
    }

    private function since(\DateTimeImmutable $at): int
    {
        return $this->clock->now()->getTimestamp() - $at->getTimestamp();
    }
}
