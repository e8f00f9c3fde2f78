<?php

declare(strict_types=1);

namespace Geschenk\App;

use Doctrine\DBAL\Driver;
use Doctrine\DBAL\Driver\Middleware;
use Doctrine\DBAL\Driver\Middleware\AbstractConnectionMiddleware;
use Doctrine\DBAL\Driver\Middleware\AbstractDriverMiddleware;

/**
 * Where the disk is full SQLite ends a transaction by itself, and whoever then wants to roll it back gets a second
 * error in the place of the first, which said why; https://www.sqlite.org/lang_transaction.html, "Response To Errors"
 */
final class SqliteRollbacks implements Middleware
{
    public function wrap(Driver $driver): Driver
    {
        return new class($driver) extends AbstractDriverMiddleware {
            public function connect(#[\SensitiveParameter] array $params): Driver\Connection
            {
                return new class(parent::connect($params)) extends AbstractConnectionMiddleware {
                    public function rollBack(): void
                    {
                        try {
                            parent::rollBack();
                        } catch (\Exception $error) {
                            if (!str_contains($error->getMessage(), 'no transaction is active')) {
                                throw $error;
                            }
                        }
                    }
                };
            }
        };
    }
}
