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
     * A picture of one moment: all that is read in it stands as it did at its first read, whatever a worker stores
     * meanwhile. Without it a move may be read from before a change, and its run from behind it. Nothing can be
     * changed in it. https://www.sqlite.org/isolation.html
     *
     * @template T
     *
     * @param callable(): T $read
     *
     * @return T
     */
    public function look(callable $read): mixed
    {
        $this->entities->clear();
        $connection = $this->entities->getConnection();
        // Outside of a transaction it begins one that takes no lock before it is told to write.
        $connection->executeStatement('SAVEPOINT look');
        try {
            return $read();
        } finally {
            $connection->executeStatement('RELEASE look');
        }
    }

    /**
     * Names the records as they stand: by another name after each change, whoever made it. Outside of a change, on one
     * connection. https://www.sqlite.org/pragma.html#pragma_data_version
     */
    public function state(): string
    {
        $connection = $this->entities->getConnection();

        return implode(' ', array_map(strval(...), array_filter([
            $connection->fetchOne('PRAGMA data_version'), $connection->fetchOne('SELECT total_changes()'),
        ], is_int(...))));
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
