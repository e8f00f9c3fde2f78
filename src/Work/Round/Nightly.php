<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Round;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Clock\ShopClock;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Shop;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;
use Symfony\Component\Clock\ClockInterface;

/** Has a round made each night; where the shop is closed then, by day, when nothing else is under way. */
final readonly class Nightly
{
    private const BEGINS = 22;
    private const ENDS = 6;
    /** Hours behind the last one from which it is time at night, and by day. */
    private const BY_NIGHT = 20;
    private const BY_DAY = 44;

    public function __construct(
        private EntityManagerInterface $entities,
        private KeepingDesk $desk,
        private Keyring $keys,
        private ShopClock $shopClock,
        private ClockInterface $clock,
    ) {
    }

    public function look(): void
    {
        if (!$this->shopClock->isTrusted() || !$this->keys->isMade() || !$this->isTime()) {
            return;
        }
        try {
            $this->keys->ensureOpen();
        } catch (KeyFailure) {
            // Nothing is read without it; that is said wherever one looks.
            return;
        }
        $this->desk->askOfShop(RoundKind::name(), 'bench');
    }

    /** The last one that was asked for. */
    public function last(): ?Run
    {
        return $this->entities->getRepository(Run::class)->findOneBy(
            ['kind' => RoundKind::name()], ['counter' => 'DESC'],
        );
    }

    private function isTime(): bool
    {
        $now = $this->clock->now();
        $last = $this->last();
        if (null !== $last && !$last->state()->isOver() && RunState::Failed !== $last->state()) {
            return false;
        }
        $since = $last->askedAt ?? $this->oldest();
        if (null === $since) {
            return false;
        }
        $hours = ($now->getTimestamp() - $since->getTimestamp()) / 3_600;
        $hour = (int) $now->setTimezone(new \DateTimeZone(Shop::ZONE))->format('G');
        $isNight = $hour >= self::BEGINS || $hour < self::ENDS;

        return $hours >= ($isNight ? self::BY_NIGHT : self::BY_DAY) && null !== $this->oldest()
            && ($isNight || !$this->isBusy());
    }

    /** When the one was read that nobody has read for longest; null where nothing is kept. */
    private function oldest(): ?\DateTimeImmutable
    {
        $dql = 'SELECT MIN(b.verifiedAt) FROM '.Backup::class.' b WHERE b.eraseAskedAt IS NULL';
        $at = $this->entities->createQuery($dql)->getSingleScalarResult();

        return is_string($at) ? new \DateTimeImmutable($at, new \DateTimeZone('UTC')) : null;
    }

    private function isBusy(): bool
    {
        $dql = 'SELECT COUNT(r) FROM '.Run::class.' r WHERE r.state IN (:open)';

        return 0 !== (int) $this->entities->createQuery($dql)
            ->setParameter('open', [RunState::Queued, RunState::Working])->getSingleScalarResult();
    }
}
