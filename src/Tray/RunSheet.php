<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\Tray;
use Psr\Clock\ClockInterface;

/** Notes what was done to a tray, by whom and when: on its run sheet and in the log. */
final readonly class RunSheet
{
    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    /** The caller flushes, so that the note and what it tells are stored together. */
    public function note(Tray $tray, Stage $stage, string $by, string $text): void
    {
        $tray->note(new Step($tray, $stage, $this->clock->now(), $by, mb_substr($text, 0, 500)));
        $this->log($by, $stage->value, $tray->number, $text);
    }

    public function log(string $by, string $act, ?int $tray, string $detail): void
    {
        $this->entities->persist(new LogEntry($this->clock->now(), $by, $act, $tray, mb_substr($detail, 0, 500)));
    }
}
