<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Records;
use Psr\Log\LoggerInterface;
use Symfony\Component\Clock\ClockInterface;

/**
 * What a customer told to open their backup is kept for an hour at most while it is not worked with, and what is left
 * of it in the write-ahead log goes within a minute.
 */
final class KeyWatch
{
    /** Seconds. */
    public const LONGEST = 3_600;
    private const EMPTIED_EVERY = 60.0;

    private float $emptiedAt = -self::EMPTIED_EVERY;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Records $records,
        private readonly DataFolder $data,
        private readonly ClockInterface $clock,
        private readonly LoggerInterface $logger,
    ) {
    }

    public function round(): void
    {
        $this->dropOld();
        $now = hrtime(true) / 1e9;
        if ($now - $this->emptiedAt >= self::EMPTIED_EVERY && $this->emptyLog()) {
            $this->emptiedAt = $now;
        }
    }

    private function dropOld(): void
    {
        $dql = 'SELECT r.id FROM '.Run::class.' r WHERE r.lockedKey IS NOT NULL AND r.state <> :working';
        $ids = $this->entities->createQuery($dql)->setParameter('working', RunState::Working)->getSingleColumnResult();
        foreach ($ids as $id) {
            $this->records->change(function () use ($id): void {
                $this->entities->clear();
                $run = $this->entities->find(Run::class, $id);
                $now = $this->clock->now();
                if (null !== $run && RunState::Working !== $run->state()
                    && $now->getTimestamp() - ($run->keyAt() ?? $now)->getTimestamp() > self::LONGEST) {
                    $run->fail('key_too_old', [], $now);
                }
            });
        }
    }

    /** @return bool false when somebody reads just now, so that it is tried again soon */
    private function emptyLog(): bool
    {
        $path = $this->data->records();
        if (!is_file($path.'-wal')) {
            return true;
        }
        try {
            $database = new \SQLite3($path, \SQLITE3_OPEN_READWRITE);
            $database->enableExceptions(true);
            // Nobody waits for this.
            $database->busyTimeout(100);
            $isBusy = 0 !== $database->querySingle('PRAGMA wal_checkpoint(TRUNCATE)');
            $database->close();

            return !$isBusy;
        } catch (\Exception $error) {
            $this->logger->warning('The write-ahead log could not be emptied.', ['exception' => $error]);

            return false;
        }
    }
}
