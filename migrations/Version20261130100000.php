<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What can't be undone goes by the machine's own time too: a clock that jumps erases nothing. */
final class Version20261130100000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE clock_seen (
                id INTEGER NOT NULL PRIMARY KEY,
                at DATETIME NOT NULL,
                boot VARCHAR(60) NOT NULL,
                uptime DOUBLE PRECISION NOT NULL,
                should_be DATETIME DEFAULT NULL,
                told DATETIME DEFAULT NULL
            )
            SQL);
        $this->addSql('ALTER TABLE tray ADD COLUMN over_boot VARCHAR(60) DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN over_uptime DOUBLE PRECISION DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE clock_seen');
        $this->addSql('ALTER TABLE tray DROP COLUMN over_boot');
        $this->addSql('ALTER TABLE tray DROP COLUMN over_uptime');
    }
}
