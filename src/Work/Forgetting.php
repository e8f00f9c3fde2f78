<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Clock\MachineTime;
use Geschenk\App\Clock\ShopClock;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Records;
use Geschenk\App\RecordsCopy;
use Geschenk\App\Shop;
use Geschenk\App\Tray\RunSheet;
use Psr\Clock\ClockInterface;

/**
 * A customer of whom nothing is kept any more is forgotten by the shop's rule: name, how to reach them, their numbers
 * and what their phones had. Trays, counts and who did what when stay, and say of nobody whose they were.
 */
final readonly class Forgetting
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private Connection $connection,
        private RunSheet $sheet,
        private RecordsCopy $copies,
        private ShopClock $shopClock,
        private MachineTime $machine,
        private ClockInterface $clock,
    ) {
    }

    /** @return \DateTimeImmutable|null when it is their turn, as things stand; null as long as anything is kept */
    public function when(Customer $customer): ?\DateTimeImmutable
    {
        $trays = $this->entities->getRepository(Tray::class)->findBy(['customer' => $customer]);
        $backups = $this->entities->getRepository(Backup::class)->findBy(['customer' => $customer]);
        $last = null;
        $run = $customer->run();
        if (null !== $run) {
            // What they bring may become something that is kept; where nothing did, that is a while ago.
            if (!$run->state()->isOver() && RunState::Failed !== $run->state()) {
                return null;
            }
            $last = $run->finishedAt() ?? $run->askedAt;
        }
        foreach ([...$trays, ...$backups] as $one) {
            if (null === $one->erasedAt() || $one instanceof Tray && null === $one->closedAt()) {
                return null;
            }
            $last = max($last, $one->erasedAt());
        }

        return $customer->isForgotten() ? null : $last?->modify(sprintf('+%d days', Shop::FORGET_DAYS));
    }

    /** For the watch, by a clock that can be gone by. */
    public function due(): void
    {
        if (!$this->shopClock->isTrusted()) {
            return;
        }
        $before = $this->clock->now()->modify(sprintf('-%d days', Shop::FORGET_DAYS));
        $candidates = $this->candidates($before);
        // Whoever has come again since is not seen to be over any more.
        $this->entities->createQuery(
            'UPDATE '.Customer::class.' c SET c.over.boot = NULL WHERE c.over.boot IS NOT NULL AND c.id NOT IN (:ids)',
        )->execute(['ids' => [0, ...$candidates]]);
        foreach ($candidates as $id) {
            $this->records->change(function () use ($id): void {
                $this->entities->clear();
                $customer = $this->entities->find(Customer::class, $id);
                $when = null === $customer ? null : $this->when($customer);
                if (null === $customer || null === $when || $when > $this->clock->now()) {
                    $customer?->over()->forget();

                    return;
                }
                $seen = $customer->over()->sinceFirst($this->machine->boot(), $this->machine->uptime());
                $seen < Erasing::OVER_FOR ?: $this->forget($customer);
            });
        }
        $this->records->change(fn () => $this->phones($before));
        $this->copies->sweep($this->clock->now()->modify(sprintf('-%d days', Shop::COPY_DAYS)));
    }

    /** @return list<int> those whose last tray was erased that long ago; whether all is, is told by when() */
    private function candidates(\DateTimeImmutable $before): array
    {
        $dql = 'SELECT c.id FROM '.Customer::class.' c LEFT JOIN c.run r WHERE c.forgottenAt IS NULL '
            .'AND (r.id IS NOT NULL '
            .'OR EXISTS (SELECT t.id FROM '.Tray::class.' t WHERE t.customer = c AND t.erasedAt <= :before)) '
            .'AND NOT EXISTS (SELECT n.id FROM '.Tray::class.' n WHERE n.customer = c '
            .'AND (n.erasedAt IS NULL OR n.erasedAt > :before))';
        /** @var list<int> $ids */
        $ids = $this->entities->createQuery($dql)->setParameter('before', $before)->getSingleColumnResult();

        return $ids;
    }

    /** In the caller's transaction. */
    private function forget(Customer $customer): void
    {
        foreach ($this->entities->getRepository(Tray::class)->findBy(['customer' => $customer]) as $tray) {
            $tray->forgetsCustomer();
            $this->sheet->note($tray, Stage::HandOver, Erasing::RULE, 'customer_forgotten');
        }
        $customer->forget($this->clock->now());
        $of = ['customer' => $customer->id(), 'nobody' => Customer::NOBODY];
        $this->connection->executeStatement(
            "UPDATE backup SET account = '', note = '' WHERE customer_id = :customer", $of,
        );
        $this->connection->executeStatement(<<<'SQL'
            UPDATE reading_copy SET name = :nobody
            WHERE name IS NOT NULL AND backup_id IN (SELECT id FROM backup WHERE customer_id = :customer)
            SQL, $of);
        $this->connection->executeStatement(
            "UPDATE run SET trouble = NULL, trouble_params = '[]' WHERE customer_id = :customer", $of,
        );
        $this->connection->executeStatement(
            "UPDATE import SET name = '', path = '' WHERE customer_id = :customer", $of,
        );
        $this->connection->executeStatement(<<<'SQL'
            UPDATE step SET params = json_replace(params, '$.customer', :nobody)
            WHERE tray_id IN (SELECT id FROM tray WHERE customer_id = :customer)
            SQL, $of);
    }

    /** What phones showed that have not been here for as long and are nobody's who is known: their number with it. */
    private function phones(\DateTimeImmutable $before): void
    {
        $serials = $this->connection->fetchFirstColumn(<<<'SQL'
            SELECT serial FROM phone
            WHERE NOT on_bench AND seen_at <= :before AND serial NOT IN (
                SELECT brought.serial
                FROM tray_phone brought
                JOIN tray ON tray.id = brought.tray_id
                JOIN customer ON customer.id = tray.customer_id
                WHERE customer.forgotten_at IS NULL)
            SQL, ['before' => $before->format('Y-m-d H:i:s')]);
        foreach ([] === $serials ? [] : ['holding', 'phone'] as $table) {
            $this->connection->executeStatement(
                "DELETE FROM $table WHERE serial IN (:serials)", ['serials' => $serials],
                ['serials' => ArrayParameterType::STRING],
            );
        }
    }
}
