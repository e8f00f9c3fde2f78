<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query\Expr\Join;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Refusal;

/** Who has been at the counter before. */
final readonly class Customers
{
    /** So many are shown beside what is typed. */
    public const PAGE = 6;
    /** By fewer letters nobody is looked for: that would be a list of who comes here. */
    private const FEWEST = 2;

    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /**
     * Those who came last are first; of whom there was no tray yet, something is being imported.
     *
     * @param string $words each of which stands in the name or the contact
     *
     * @return list<array{
     *     customer: Customer, trays: int, last_tray: int|null, last_at: \DateTimeImmutable|null,
     * }>
     */
    public function find(string $words): array
    {
        if (mb_strlen(trim($words)) < self::FEWEST) {
            return [];
        }
        $newest = 'SELECT MAX(o.number) FROM '.Tray::class.' o WHERE o.customer = c';
        $found = $this->entities->createQueryBuilder()
            ->select('c', '(SELECT COUNT(n) FROM '.Tray::class.' n WHERE n.customer = c) AS trays')
            ->addSelect('t.number AS last_tray', 't.openedAt AS last_at')
            ->from(Customer::class, 'c')
            ->leftJoin(Tray::class, 't', Join::WITH, 't.customer = c AND t.number = ('.$newest.')')
            ->where('c.forgottenAt IS NULL')
            ->orderBy('t.number', 'DESC')->addOrderBy('c.id', 'DESC')->setMaxResults(self::PAGE);
        FoundByWords::narrow($found, $words, ['c.name', 'c.contact']);
        /**
         * @var list<array{
         *     0: Customer, trays: int, last_tray: int|null, last_at: \DateTimeImmutable|null,
         * }> $rows
         */
        $rows = $found->getQuery()->getResult();

        return array_map(static fn (array $row): array => [
            'customer' => $row[0], 'trays' => (int) $row['trays'], 'last_tray' => $row['last_tray'],
            'last_at' => $row['last_at'],
        ], $rows);
    }

    /**
     * In the caller's transaction.
     *
     * @throws Refusal when there is nobody of that id
     */
    public function get(int $id): Customer
    {
        $customer = $this->entities->find(Customer::class, $id);

        return null === $customer || $customer->isForgotten()
            ? throw Refusal::because('no_such_customer')
            : $customer;
    }
}
