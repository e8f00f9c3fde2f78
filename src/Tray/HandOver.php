<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Geschenk\Core\Arrival\Result;
use Psr\Clock\ClockInterface;

/** The last stage: the tray is closed, copies of the chats are dropped, the backup and the proof stay. */
final readonly class HandOver
{
    public function __construct(private EntityManagerInterface $entities, private TrayFiles $files, private RunSheet $sheet, private ClockInterface $clock)
    {
    }

    /** @throws \DomainException */
    public function close(Tray $tray, string $by): void
    {
        if (null !== $tray->closedAt()) {
            return;
        }
        if (!is_file($this->files->arrival($tray))) {
            throw new \DomainException('Nothing was checked yet. The sheet says only what was read back from the phone, so check first.');
        }
        $totals = (new Result($this->files->arrival($tray)))->totals();
        $tray->close($this->clock->now());
        $this->files->dropCopies($tray);
        $this->sheet->note($tray, Stage::HandOver, $by, $totals->complete() ? 'Handed over: everything that was meant to arrive is there' : sprintf('Handed over with %s messages missing, told to the customer', number_format($totals->missing)));
        $this->entities->flush();
    }
}
