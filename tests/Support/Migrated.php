<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

/** The records of a shop in a scratch folder, as one version after the other takes them over. */
trait Migrated
{
    use Scratch;

    private function migrate(string $to): void
    {
        exec(sprintf(
            'GESCHENK_DATA=%s APP_ENV=test APP_SECRET=only-for-the-tests %s %s doctrine:migrations:migrate %s '
                .'--no-interaction 2>&1',
            escapeshellarg($this->path()), escapeshellarg(\PHP_BINARY),
            escapeshellarg(dirname(__DIR__, 2).'/bin/console'), escapeshellarg($to),
        ), $said, $code);
        self::assertSame(0, $code, implode("\n", $said));
    }

    /** @return list<list<mixed>> */
    private static function rows(\SQLite3 $shop, string $sql): array
    {
        $found = $shop->query($sql);
        self::assertInstanceOf(\SQLite3Result::class, $found);
        $rows = [];
        while (is_array($row = $found->fetchArray(\SQLITE3_NUM))) {
            $rows[] = array_values($row);
        }

        return $rows;
    }
}
