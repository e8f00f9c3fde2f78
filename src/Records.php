<?php

declare(strict_types=1);

namespace Geschenk\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Tray;

/**
 * One guarded change of the records: a transaction that has the write lock from its beginning (ImmediateTransactions)
 * and reads anew what it is about. What is checked in it is still so when it is stored; what is refused leaves nothing.
 */
final readonly class Records
{
    public function __construct(private EntityManagerInterface $entities)
    {
    }

    /**
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     */
    public function change(callable $work): mixed
    {
        try {
            return $this->entities->getConnection()->transactional(function () use ($work): mixed {
                $result = $work();
                $this->entities->flush();

                return $result;
            });
        } catch (\Throwable $error) {
            // What was changed in memory alone must not reach the database with the next change.
            $this->entities->clear();
            throw $error;
        }
    }

    /**
     * @template T
     *
     * @param callable(Tray): T $work gets the tray as it stands in the database now
     *
     * @return T
     *
     * @throws Refusal when there is no such tray
     */
    public function changeTray(int $number, callable $work): mixed
    {
        return $this->change(function () use ($number, $work): mixed {
            $this->entities->clear();
            $tray = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number]);

            return $work($tray ?? throw Refusal::because('no_such_tray', ['tray' => $number]));
        });
    }

    /**
     * The next number of a table that is counted up. In the caller's transaction.
     *
     * @param class-string $entity one with a "counter"
     */
    public function next(string $entity): int
    {
        $dql = 'SELECT MAX(x.counter) FROM '.$entity.' x';

        return 1 + (int) $this->entities->createQuery($dql)->getSingleScalarResult();
    }
}
