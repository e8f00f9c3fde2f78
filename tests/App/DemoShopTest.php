<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Demo\DemoShop;

/** A demonstration is made anew whatever was done in it. */
final class DemoShopTest extends ApiTestCase
{
    public function testNothingOfTheOneBeforeIsLeft(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $id = $this->text($this->call('POST', '/api/backups/find', ['words' => '']), 'backups', 0, 'id');
        $this->call('POST', "/api/backups/$id/verify", null, 202);
        $this->work();
        $records = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        self::assertGreaterThan(5, count($this->filled()));
        self::getContainer()->get(DemoShop::class)->clear();
        self::assertSame([], array_values(array_diff($this->filled(), ['pace', 'clock_seen'])));
        self::assertSame([], $records->fetchAllAssociative('PRAGMA foreign_key_check'));
    }

    /** @return list<string> names of tables that hold anything, without what migrations and SQLite write */
    private function filled(): array
    {
        $records = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        /** @var list<string> $tables */
        $tables = $records->fetchFirstColumn("SELECT name FROM sqlite_schema WHERE type = 'table'");

        return array_values(array_filter(
            array_diff($tables, ['doctrine_migration_versions', 'sqlite_sequence']),
            static fn (string $table): bool => 0 !== (int) json_encode(
                $records->fetchOne("SELECT COUNT(*) FROM $table"),
            ),
        ));
    }
}
