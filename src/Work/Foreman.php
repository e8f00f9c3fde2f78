<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\WorkLocks;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;

/**
 * Sees to it that no run is left lying, whether its tray is open or was handed over: one whose worker was killed, whose
 * message was lost, or that waits for a phone is handed to a worker again. It goes by the runs' states and by the
 * machine's own time, never by the clock on the wall.
 */
final class Foreman
{
    /** Seconds between two handings-out of a run that waits for something on a phone. */
    private const LOOK_AGAIN = 1.5;

    /** @var array<string, float> when a run was handed out last, by id */
    private array $handedOut = [];

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly WorkLocks $locks,
        private readonly MessageBusInterface $bus,
        private readonly ClockInterface $clock,
        private readonly Phones $phones,
    ) {
    }

    public function round(): void
    {
        $now = hrtime(true) / 1e9;
        $runs = $this->entities->getRepository(Run::class);
        $left = array_filter(
            $runs->findBy(['leftOnPhone' => true], ['counter' => 'ASC']),
            fn (Run $run): bool => true === $this->phones->state($run->serial() ?? '')?->plugged,
        );
        foreach ([...$runs->findBy(['state' => RunState::UNDER_WAY], ['counter' => 'ASC']), ...$left] as $run) {
            if ($now - ($this->handedOut[$run->id] ?? 0.0) < self::LOOK_AGAIN || $this->isInQueue($run->id)) {
                continue;
            }
            $lock = $this->locks->ofRun($run);
            if ($lock->acquire()) {
                $lock->release();
                $this->handedOut[$run->id] = $now;
                // A second message for the same run is harmless: it is locked while it is worked on, and over once.
                $this->bus->dispatch(new WorkOnRun($run->id));
            }
        }
    }

    /** Whether a worker will come upon a message for it; one that a clock set back has put off does not count. */
    private function isInQueue(string $runId): bool
    {
        $sql = <<<'SQL'
            SELECT 1 FROM messenger_messages
            WHERE queue_name = 'runs' AND delivered_at IS NULL AND available_at <= :now AND instr(body, :run) > 0
            LIMIT 1
            SQL;

        return false !== $this->entities->getConnection()->fetchOne($sql, [
            'now' => $this->clock->now()->format('Y-m-d H:i:s'), 'run' => $runId,
        ]);
    }
}
