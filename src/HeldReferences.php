<?php

declare(strict_types=1);

namespace Geschenk\App;

use Doctrine\Bundle\DoctrineBundle\Attribute\AsMiddleware;
use Doctrine\DBAL\Driver;
use Doctrine\DBAL\Driver\Middleware;
use Doctrine\DBAL\Driver\Middleware\AbstractDriverMiddleware;

/**
 * No record goes that another tells of: SQLite refuses it where it is told to on each connection, before the first
 * transaction. In tests too, and so next to the driver. https://www.sqlite.org/foreignkeys.html
 */
#[AsMiddleware(priority: 100)]
final class HeldReferences implements Middleware
{
    public function wrap(Driver $driver): Driver
    {
        return new class($driver) extends AbstractDriverMiddleware {
            public function connect(#[\SensitiveParameter] array $params): Driver\Connection
            {
                $connection = parent::connect($params);
                $connection->exec('PRAGMA foreign_keys = ON');

                return $connection;
            }
        };
    }
}
