<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Setback;
use Geschenk\Core\Files\Durable\DiskFull;
use Psr\Clock\ClockInterface;

/** Keeps what stood in the way of runs, for the manager's figures: a run forgets it as soon as it goes on. */
final readonly class Setbacks
{
    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    /**
     * That the run waits for room now, where it has not before; in the caller's transaction, and past a manager of the
     * records that could not store what it knew.
     */
    public function noteFull(string $runId): void
    {
        $this->entities->getConnection()->executeStatement(<<<'SQL'
            INSERT INTO setback (move_id, at, kind, reason, params, is_end)
            SELECT move_id, :at, kind, :full, '[]', 0
            FROM run
            WHERE id = :id AND NOT (state = :waiting AND trouble = :full)
            SQL, [
            'id' => $runId, 'at' => $this->clock->now()->format('Y-m-d H:i:s'), 'full' => DiskFull::REASON,
            'waiting' => RunState::Waiting->value,
        ]);
    }

    /**
     * That the run is hindered as it stands; stored with the caller's next flush.
     *
     * @param bool $isEnd whether it ends there; false where it waits and goes on by itself
     */
    public function note(Run $run, bool $isEnd): void
    {
        $subject = $run->subject();
        $this->entities->persist(new Setback(
            $subject instanceof Move ? $subject : null, $this->clock->now(), $run->kind,
            $run->trouble() ?? throw new \LogicException('Nothing is in its way.'),
            // Names of files that somebody brought are in no figure.
            $subject instanceof Customer ? [] : $run->troubleParams(), $isEnd,
        ));
    }
}
