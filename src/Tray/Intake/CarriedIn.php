<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Errand;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\Tray\RunSheet;
use Psr\Clock\ClockInterface;

/** The tray of what was carried in: no phone is in it, and it is over as soon as what came is kept. */
final readonly class CarriedIn
{
    public function __construct(
        private EntityManagerInterface $entities,
        private TrayNumbers $numbers,
        private HandOver $handOver,
        private RunSheet $sheet,
        private ClockInterface $clock,
    ) {
    }

    /**
     * In the caller's transaction.
     *
     * @param array<string, string|int> $told what came
     */
    public function open(Customer $customer, string $by, array $told): Tray
    {
        $tray = new Tray($this->numbers->next(), $customer, $this->clock->now(), $by, Errand::Import);
        $this->entities->persist($tray);
        $this->sheet->note($tray, Stage::Intake, $by, 'opened_import', ['customer' => $customer->name()]);
        $this->sheet->note($tray, Stage::HandOver, $by, 'imported', $told);
        $this->handOver->end($tray, $by);

        return $tray;
    }
}
