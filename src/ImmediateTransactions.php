<?php

declare(strict_types=1);

namespace Geschenk\App;

use Doctrine\DBAL\Driver;
use Doctrine\DBAL\Driver\Middleware;
use Doctrine\DBAL\Driver\Middleware\AbstractConnectionMiddleware;
use Doctrine\DBAL\Driver\Middleware\AbstractDriverMiddleware;
use Symfony\Component\DependencyInjection\Attribute\WhenNot;

/**
 * Web requests and workers write to one SQLite file. A transaction takes the write lock when it begins, so that it
 * waits its turn there instead of failing in its middle; https://www.sqlite.org/lang_transaction.html
 * In tests one connection stays inside a transaction that is rolled back, and such pragmas are refused there.
 */
#[WhenNot('test')]
final class ImmediateTransactions implements Middleware
{
    public function wrap(Driver $driver): Driver
    {
        return new class($driver) extends AbstractDriverMiddleware {
            public function connect(#[\SensitiveParameter] array $params): Driver\Connection
            {
                $connection = parent::connect($params);
                $connection->exec('PRAGMA busy_timeout = 15000');
                $connection->exec('PRAGMA journal_mode = WAL');
                $connection->exec('PRAGMA synchronous = FULL');
                // What is taken out of the records is written over, and stays in no free page.
                $connection->exec('PRAGMA secure_delete = ON');

                return new class($connection) extends AbstractConnectionMiddleware {
                    public function beginTransaction(): void
                    {
                        $this->exec('BEGIN IMMEDIATE');
                    }
                };
            }
        };
    }
}
