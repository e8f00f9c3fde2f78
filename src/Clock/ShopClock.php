<?php

declare(strict_types=1);

namespace Geschenk\App\Clock;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\ClockSeen;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Psr\Clock\ClockInterface;

/**
 * Whether the clock on the wall can be gone by where something can't be undone. It is held against the machine's own
 * time; once it has jumped, nothing goes by it until a manager has said that the date is right.
 */
final readonly class ShopClock
{
    /** Who notes in the log that it has jumped. */
    public const BY = 'watch';

    /** Seconds by which the two may differ from one look to the next: clocks are set right by a little all the time. */
    public const TOLERANCE = 600;
    /** Seconds for which a computer may have been off: a long weekend. Beyond that somebody has to say so. */
    public const OFF_AT_MOST = 4 * 86_400;

    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private ClockInterface $clock,
        private MachineTime $machine,
        private ShopLog $log,
    ) {
    }

    /** For the watch, each minute or so. */
    public function look(): void
    {
        $this->records->change(function (): void {
            [$now, $boot, $uptime] = [$this->clock->now(), $this->machine->boot(), $this->machine->uptime()];
            $seen = $this->entities->find(ClockSeen::class, ClockSeen::ID);
            if (null === $seen) {
                $this->entities->persist(new ClockSeen($now, $boot, $uptime));

                return;
            }
            $passed = $now->getTimestamp() - $seen->at()->getTimestamp();
            $isOneStart = $boot === $seen->boot() && $uptime >= $seen->uptime();
            $machine = $isOneStart ? (int) round($uptime - $seen->uptime()) : 0;
            $most = $isOneStart ? $machine + self::TOLERANCE : self::OFF_AT_MOST;
            if ($passed < $machine - self::TOLERANCE || $passed > $most) {
                $shouldBe = $seen->at()->modify(sprintf('+%d seconds', $machine));
                $seen->doubt($shouldBe, $now);
                // What was seen by it is no more to be relied on.
                foreach ([Tray::class, Backup::class, Customer::class] as $kept) {
                    $this->entities->createQuery("UPDATE $kept k SET k.over.boot = NULL")->execute();
                }
                $this->log->note(self::BY, 'clock_jumped', null, [
                    'should_at' => $shouldBe->getTimestamp(), 'told_at' => $now->getTimestamp(),
                ]);
            }
            $seen->see($now, $boot, $uptime);
        });
    }

    public function isTrusted(): bool
    {
        return null === $this->doubt();
    }

    /** @return ClockSeen|null the clock while it is in doubt */
    public function doubt(): ?ClockSeen
    {
        $seen = $this->entities->find(ClockSeen::class, ClockSeen::ID);

        return null === $seen?->shouldBe() ? null : $seen;
    }

    /** Somebody who may has looked at the date, and it is right. */
    public function confirm(string $by): void
    {
        $this->records->change(function () use ($by): void {
            $this->entities->clear();
            $seen = $this->doubt();
            if (null !== $seen) {
                $seen->trust();
                $this->log->note($by, 'clock_confirmed', null, ['told_at' => $this->clock->now()->getTimestamp()]);
            }
        });
    }
}
