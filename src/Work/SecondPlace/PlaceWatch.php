<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;
use Psr\Clock\ClockInterface;

/**
 * Has what is new brought to the second place, and what was erased taken from there, soon; and all of it gone through
 * once a day. Where that fails it is tried again by and by.
 */
final readonly class PlaceWatch
{
    /** Seconds between two of them, and of one that goes through all of it. */
    private const AGAIN = 600;
    private const DAILY = 72_000;
    /** Days without one that came to its end, from which it calls. */
    private const LATE = 2;

    public function __construct(
        private PlaceInUse $inUse,
        private PlacePlan $plan,
        private OurPlace $ours,
        private KeepingDesk $desk,
        private Keyring $keys,
        private EntityManagerInterface $entities,
        private ClockInterface $clock,
    ) {
    }

    public function look(): void
    {
        if (!$this->inUse->isSet() || !$this->keys->isMade() || !$this->isTime()) {
            return;
        }
        try {
            $this->keys->ensureOpen();
            $this->desk->askOfShop(PlacingKind::name(), 'bench');
        } catch (KeyFailure) {
            // Nothing is sealed without it; that is said wherever one looks.
        }
    }

    /** The last one that was asked for. */
    public function last(): ?Run
    {
        return $this->entities->getRepository(Run::class)->findOneBy(
            ['kind' => PlacingKind::name()], ['counter' => 'DESC'],
        );
    }

    /** Whether all should have been there for a while, and is not. */
    public function isLate(): bool
    {
        if (!$this->inUse->isSet()) {
            return false;
        }
        $complete = $this->ours->record()?->completeAt();
        $since = $complete ?? $this->first();

        return null !== $since && $since < $this->clock->now()->modify(sprintf('-%d days', self::LATE));
    }

    private function first(): ?\DateTimeImmutable
    {
        return $this->entities->getRepository(Run::class)->findOneBy(
            ['kind' => PlacingKind::name()], ['counter' => 'ASC'],
        )?->askedAt;
    }

    private function isTime(): bool
    {
        $last = $this->last();
        if (null === $last) {
            return true;
        }
        $state = $last->state();
        if (RunState::Paused === $state || !$state->rests()) {
            // Somebody has it rest, or it is at it.
            return false;
        }
        $ago = abs($this->clock->now()->getTimestamp() - ($last->finishedAt() ?? $last->askedAt)->getTimestamp());
        $complete = $this->ours->record()?->completeAt();

        return $ago >= self::AGAIN && (
            RunState::Done !== $state || null === $complete || $this->plan->isPressing()
            || abs($this->clock->now()->getTimestamp() - $complete->getTimestamp()) >= self::DAILY
        );
    }
}
