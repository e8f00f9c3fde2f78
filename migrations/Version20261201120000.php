<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Copies of backups that are taken home to read. */
final class Version20261201120000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE reading_copy (
                id VARCHAR(36) PRIMARY KEY NOT NULL,
                backup_id VARCHAR(36) NOT NULL REFERENCES backup (id),
                forms CLOB NOT NULL,
                packing VARCHAR(20) NOT NULL,
                is_locked BOOLEAN NOT NULL,
                selected CLOB NOT NULL,
                language VARCHAR(10) NOT NULL,
                stick VARCHAR(80) NOT NULL,
                stick_label VARCHAR(80) NOT NULL,
                asked_at DATETIME NOT NULL,
                asked_by VARCHAR(60) NOT NULL,
                name VARCHAR(160) DEFAULT NULL,
                made_at DATETIME DEFAULT NULL,
                made CLOB DEFAULT NULL
            )
            SQL);
        $this->addSql('CREATE INDEX reading_copy_backup ON reading_copy (backup_id)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE reading_copy');
    }
}
