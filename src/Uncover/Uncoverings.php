<?php

declare(strict_types=1);

namespace Geschenk\App\Uncover;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Uncovering;
use Geschenk\App\Entity\User;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\Session\SessionInterface;

/**
 * The one place that decides what is uncovered. Each uncovering is in the log before anything is shown, opens what that
 * line names and nothing else, for one user in one session, and ends by itself a minute after the page that shows it
 * was last heard of. Its end is in the log too.
 */
final readonly class Uncoverings
{
    /** Seconds. */
    public const LEASE = 60;
    /** Use is noted at most so often, in seconds. */
    private const NOTED_EVERY = 10;

    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @return string names it, for the page that shows what it opens
     */
    public function begin(SessionInterface $session, User $user, What $what, Noted $noted): string
    {
        return $this->records->change(function () use ($session, $user, $what, $noted): string {
            $name = $user->getUserIdentifier();
            foreach ($this->of($session, $user, $what->subject) as $before) {
                // The same once more, or the eyes' with other pictures: it takes its place.
                if ($before->number === $what->number || [] !== $what->pieces) {
                    $this->entities->remove($before);
                }
            }
            // In the log with it: what can't be logged stays covered.
            $this->log->noteWithFlush($name, $noted->begins, $what->tray, $noted->params);
            $lease = new Uncovering(
                bin2hex(random_bytes(16)), self::hash($session), $name, $what->subject, $what->number, $what->pieces,
                $what->isClosed, $what->tray, $noted->ends, $noted->params, $this->clock->now(),
            );
            $this->entities->persist($lease);

            return $lease->id;
        });
    }

    /** @param string|null $piece a picture, where what it opens are single ones */
    public function holds(SessionInterface $session, User $user, What $what, ?string $piece = null): bool
    {
        foreach ($this->of($session, $user, $what->subject) as $lease) {
            $isOpened = null === $piece
                ? $lease->number === $what->number
                : in_array($piece, $lease->pieces, true);
            if ($isOpened && $lease->closed === $what->isClosed) {
                return $this->stillRuns($lease);
            }
        }

        return false;
    }

    /**
     * The page that shows it is there still.
     *
     * @return bool false where it has ended
     */
    public function stays(SessionInterface $session, User $user, string $id): bool
    {
        $lease = $this->own($session, $user, $id);

        return null !== $lease && $this->stillRuns($lease);
    }

    public function end(SessionInterface $session, User $user, string $id): void
    {
        $lease = $this->own($session, $user, $id);
        null === $lease ?: $this->close($lease);
    }

    public function cover(SessionInterface $session, User $user, What $what): void
    {
        foreach ($this->of($session, $user, $what->subject) as $lease) {
            if ($lease->number === $what->number || [] !== $lease->pieces) {
                $this->close($lease);
            }
        }
    }

    /** For the watch: those whose pages are gone. */
    public function sweep(): void
    {
        $dql = 'SELECT u FROM '.Uncovering::class.' u WHERE u.usedAt < :before';
        /** @var list<Uncovering> $over */
        $over = $this->entities->createQuery($dql)
            ->setParameter('before', $this->clock->now()->modify(sprintf('-%d seconds', self::LEASE)))->getResult();
        foreach ($over as $lease) {
            $this->close($lease);
        }
    }

    private function stillRuns(Uncovering $lease): bool
    {
        $unheard = $this->clock->now()->getTimestamp() - $lease->usedAt()->getTimestamp();
        if ($unheard > self::LEASE) {
            $this->close($lease);

            return false;
        }
        if ($unheard >= self::NOTED_EVERY) {
            $this->entities->getConnection()->executeStatement(
                'UPDATE uncovering SET used_at = ? WHERE id = ?',
                [$this->clock->now()->format('Y-m-d H:i:s'), $lease->id],
            );
        }

        return true;
    }

    private function close(Uncovering $lease): void
    {
        $this->records->change(function () use ($lease): void {
            // Once, whoever comes upon it first.
            $gone = $this->entities->getConnection()->executeStatement(
                'DELETE FROM uncovering WHERE id = ?', [$lease->id],
            );
            if ($gone > 0) {
                $this->log->note($lease->username, $lease->endAct, $lease->tray, $lease->endParams);
            }
        });
        $this->entities->detach($lease);
    }

    /** @return list<Uncovering> */
    private function of(SessionInterface $session, User $user, string $subject): array
    {
        return $this->entities->getRepository(Uncovering::class)->findBy([
            'session' => self::hash($session), 'username' => $user->getUserIdentifier(), 'subject' => $subject,
        ]);
    }

    private function own(SessionInterface $session, User $user, string $id): ?Uncovering
    {
        return $this->entities->getRepository(Uncovering::class)->findOneBy([
            'id' => $id, 'session' => self::hash($session), 'username' => $user->getUserIdentifier(),
        ]);
    }

    private static function hash(SessionInterface $session): string
    {
        return hash('sha256', $session->getId());
    }
}
