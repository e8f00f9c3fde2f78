<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Copies of what the shop keeps lie at a second place, too. */
final class Version20261201220000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE second_place (
                id INTEGER NOT NULL,
                since DATETIME DEFAULT NULL,
                complete_at DATETIME DEFAULT NULL,
                mark VARCHAR(36) NOT NULL,
                PRIMARY KEY (id)
            )
            SQL);
        $this->addSql(<<<'SQL'
            CREATE TABLE placed_copy (
                name VARCHAR(40) NOT NULL,
                backup_id VARCHAR(36) DEFAULT NULL,
                read_at DATETIME NOT NULL,
                is_whole BOOLEAN NOT NULL,
                mended_at DATETIME DEFAULT NULL,
                gone_at DATETIME DEFAULT NULL,
                state VARCHAR(64) NOT NULL,
                placed_at DATETIME NOT NULL,
                files INTEGER NOT NULL,
                bytes BIGINT NOT NULL,
                PRIMARY KEY (name),
                FOREIGN KEY (backup_id) REFERENCES backup (id)
            )
            SQL);
        $this->addSql('CREATE UNIQUE INDEX placed_copy_of_backup ON placed_copy (backup_id)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE placed_copy');
        $this->addSql('DROP TABLE second_place');
    }
}
