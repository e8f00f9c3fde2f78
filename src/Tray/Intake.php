<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Work\RunKind;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\Role;
use Psr\Clock\ClockInterface;

/** Opens trays and gives roles to phones. */
final readonly class Intake
{
    /** The one messenger so far; a tray keeps its own. */
    public const APP = 'otterpost';
    private const FIRST_NUMBER = 41;

    public function __construct(private EntityManagerInterface $entities, private PhoneDirectory $phones, private RunSheet $sheet, private RunDesk $runs, private TrayFiles $files, private ClockInterface $clock)
    {
    }

    /** @throws \DomainException */
    public function open(string $customer, string $contact, string $giving, string $receiving, string $by): Tray
    {
        if ($giving === $receiving) {
            throw new \DomainException('One phone can’t give and receive at once. Choose two phones.');
        }
        foreach ([$giving, $receiving] as $serial) {
            if (!in_array($serial, $this->phones->serials(), true)) {
                throw new \DomainException(sprintf('Phone %s is not on the bench.', $serial));
            }
            $busy = $this->trayOf($serial);
            if (null !== $busy) {
                throw new \DomainException(sprintf('Phone %s is in tray %d already.', $serial, $busy));
            }
        }
        $highest = $this->entities->createQuery('SELECT MAX(t.number) FROM '.Tray::class.' t')->getSingleScalarResult();
        $tray = new Tray(max(self::FIRST_NUMBER - 1, (int) $highest) + 1, $customer, $contact, self::APP, $this->clock->now(), $by);
        $tray->addPhone($giving, Role::Gives);
        $tray->addPhone($receiving, Role::Receives);
        $this->entities->persist($tray);
        $this->sheet->note($tray, Stage::Intake, $by, sprintf('%s consents; %s gives, %s receives', $customer, $tray->phone(Role::Gives)->tag, $tray->phone(Role::Receives)->tag));
        $this->entities->flush();

        return $tray;
    }

    /** The number of the open tray that a phone is in, or null. */
    public function trayOf(string $serial): ?int
    {
        $found = $this->entities->createQuery('SELECT t.number FROM '.TrayPhone::class.' p JOIN p.tray t WHERE p.serial = :serial AND t.closedAt IS NULL')->setParameter('serial', $serial)->setMaxResults(1)->getOneOrNullResult();

        return is_array($found) && is_int($found['number'] ?? null) ? $found['number'] : null;
    }

    /**
     * Says which phone gives. What was planned for the other direction is dropped.
     *
     * @throws \DomainException
     */
    public function give(Tray $tray, string $givingTag, string $by): void
    {
        if ($tray->phone(Role::Gives)->tag === $givingTag) {
            return;
        }
        if ($tray->phone(Role::Receives)->tag !== $givingTag) {
            throw new \DomainException(sprintf('There is no phone %s in this tray.', $givingTag));
        }
        $run = $this->runs->latest($tray);
        if (null !== $run && !$run->state()->isOver()) {
            throw new \DomainException('Work on this tray is going on. Roles can be changed when it is done.');
        }
        if (null !== $this->runs->lastDone($tray, RunKind::Restore) || null !== $tray->closedAt()) {
            throw new \DomainException('Chats were already written to the receiving phone. Open a new tray for the other direction.');
        }
        $tray->swapRoles();
        $this->files->clearConversion($tray);
        $this->sheet->note($tray, Stage::Intake, $by, sprintf('Roles changed: %s gives, %s receives', $tray->phone(Role::Gives)->tag, $tray->phone(Role::Receives)->tag));
        $this->entities->flush();
    }
}
