<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;

/** A customer with all that the shop knows of them: trays, what they agreed to, phones, backups, what was erased. */
final readonly class CustomerView
{
    public function __construct(
        private EntityManagerInterface $entities,
        private CupboardView $cupboard,
        private Words $words,
    ) {
    }

    /** @return array<string, mixed> */
    public function of(Customer $customer): array
    {
        $trays = $this->entities->getRepository(Tray::class)->findBy(['customer' => $customer], ['number' => 'DESC']);
        $backups = $this->entities->getRepository(Backup::class)->findBy(
            ['customer' => $customer, 'origin' => Origin::Account], ['counter' => 'DESC'],
        );
        $forgotten = $customer->forgottenAt();

        return [
            'id' => $customer->id(), 'name' => $customer->name(), 'contact' => $customer->contact(),
            'language' => $customer->language(),
            'forgotten_at' => null === $forgotten ? null : Time::iso($forgotten),
            'trays' => array_map($this->tray(...), $trays), 'backups' => $this->cupboard->rows($backups),
        ];
    }

    /** @return array<string, mixed> */
    private function tray(Tray $tray): array
    {
        // What somebody agreed to is what the tray was opened with.
        $opened = $tray->steps()[0] ?? null;
        $closedAt = $tray->closedAt();
        $erasedAt = $tray->erasedAt();

        return [
            'number' => $tray->number, 'errand' => $tray->errand->value, 'opened_at' => Time::iso($tray->openedAt),
            'opened_by' => $this->words->who($tray->openedBy),
            'agreed' => null === $opened ? '' : $this->words->say('step.'.$opened->code, $opened->params),
            'closed_at' => null === $closedAt ? null : Time::iso($closedAt), 'withdrawn' => $tray->isWithdrawn(),
            'erased_at' => null === $erasedAt ? null : Time::iso($erasedAt),
            'erased_by' => null === $erasedAt ? null : $this->words->who($tray->eraseBy()),
            'phones' => array_map($this->phone(...), $tray->phones()),
        ];
    }

    /** @return array<string, mixed> */
    private function phone(TrayPhone $phone): array
    {
        $seen = $this->entities->find(Phone::class, $phone->serial);

        return [
            'tag' => $phone->tag, 'role' => $phone->role()->value, 'serial' => $phone->serial,
            'model' => $seen?->state()->model,
        ];
    }
}
