<?php

declare(strict_types=1);

namespace Geschenk\App\Files;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Seal\KeyFailure;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;

/**
 * Throws away what a tray that was handed over needs no more: copies of the chats besides the backups, and backups
 * that were only begun. Nothing is thrown away beside somebody who works on it.
 */
final readonly class Leftovers
{
    private const LATELY = '-2 hours';

    public function __construct(
        private EntityManagerInterface $entities,
        private MoveFiles $files,
        private Vault $vault,
        private WorkLocks $locks,
        private Kinds $kinds,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    /** For the watch: what is there still because the power went between closing a tray and dropping its copies. */
    public function dropAll(): void
    {
        $this->dropOfClosed(new \DateTimeImmutable('@0'));
    }

    /** For the watch, again and again: of what was handed over while somebody else worked on it, or looked into it. */
    public function dropOfLately(): void
    {
        $this->dropOfClosed($this->clock->now()->modify(self::LATELY));
    }

    private function dropOfClosed(\DateTimeImmutable $since): void
    {
        $dql = 'SELECT m.id FROM '.Move::class.' m JOIN m.tray t WHERE t.closedAt >= :since '
            .'AND t.eraseAskedAt IS NULL';
        $ids = $this->entities->createQuery($dql)->setParameter('since', $since)->getSingleColumnResult();
        foreach ($ids as $id) {
            $move = $this->entities->find(Move::class, $id);
            try {
                null === $move ?: $this->drop($move);
            } catch (KeyFailure $failure) {
                // Nobody has told the shop's key, or it is another: what is to go lies sealed until then.
                $this->logger->warning('What a hand-over leaves can’t be dropped.', ['exception' => $failure]);
            }
            $this->entities->clear();
        }
    }

    /** Of one that is worked on nothing is dropped: what its work leaves, a later round of the watch finds. */
    public function drop(Move $move): void
    {
        $lock = $this->locks->ofMove($move);
        if (!$lock->acquire()) {
            return;
        }
        try {
            // As it stands now that nobody else can work on it.
            $this->entities->clear();
            $move = $this->entities->find(Move::class, $move->id());
            if (null === $move?->tray->closedAt()) {
                return;
            }
            $this->files->dropCopies($move);
            foreach ($this->entities->getRepository(Run::class)->findBy(['move' => $move]) as $run) {
                $kind = $this->kinds->ofMove($run->kind);
                // What goes on behind the hand-over, now or once somebody says so.
                if ($kind->isWayBack() && !$run->state()->isOver()) {
                    continue;
                }
                $this->vault->discardBegun($kind->backupId($run));
            }
        } finally {
            $lock->release();
        }
    }
}
