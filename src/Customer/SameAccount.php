<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Origin;

/** Backups of one account of one customer: a number that has changed hands is another's. */
final readonly class SameAccount
{
    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /** @return list<Backup> those that are kept and were taken before it, the newest first */
    public function earlier(Backup $backup): array
    {
        $all = $this->entities->getRepository(Backup::class)->findBy([
            'customer' => $backup->customer, 'account' => $backup->account, 'edition' => $backup->edition,
            'origin' => Origin::Account,
        ], ['counter' => 'DESC']);

        return array_values(array_filter($all, fn (Backup $one): bool => $this->isEarlier($one, $backup)));
    }

    public function isEarlier(Backup $one, Backup $backup): bool
    {
        return $one->isKept() && $one->counter < $backup->counter && !$one->isSafetyCopy()
            && $one->customer === $backup->customer && $one->account === $backup->account
            && $one->edition === $backup->edition;
    }
}
