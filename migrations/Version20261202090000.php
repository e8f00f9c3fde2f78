<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What is carried in on a stick or sent as a file becomes a backup: runs of a customer, imports, uploads. */
final class Version20261202090000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE customer ADD COLUMN run_id VARCHAR(36) DEFAULT NULL REFERENCES run (id)');
        $this->addSql('ALTER TABLE run ADD COLUMN customer_id INTEGER DEFAULT NULL REFERENCES customer (id)');
        $this->addSql('CREATE INDEX run_customer ON run (customer_id) WHERE customer_id IS NOT NULL');
        $this->addSql(<<<'SQL'
            CREATE TABLE import (
                id VARCHAR(36) PRIMARY KEY NOT NULL,
                customer_id INTEGER NOT NULL REFERENCES customer (id),
                backup_id VARCHAR(36) DEFAULT NULL REFERENCES backup (id),
                stick VARCHAR(80) NOT NULL,
                label VARCHAR(80) NOT NULL,
                path VARCHAR(1000) NOT NULL,
                upload VARCHAR(36) DEFAULT NULL,
                name VARCHAR(255) NOT NULL,
                sort VARCHAR(20) NOT NULL,
                asked_at DATETIME NOT NULL,
                asked_by VARCHAR(60) NOT NULL
            )
            SQL);
        $this->addSql('CREATE INDEX import_customer ON import (customer_id)');
        $this->addSql('CREATE UNIQUE INDEX import_backup ON import (backup_id)');
        $this->addSql('CREATE UNIQUE INDEX import_upload ON import (upload)');
        $this->addSql(<<<'SQL'
            CREATE TABLE upload (
                id VARCHAR(36) PRIMARY KEY NOT NULL,
                name VARCHAR(255) NOT NULL,
                bytes BIGINT NOT NULL,
                sent_by VARCHAR(60) NOT NULL,
                begun_at DATETIME NOT NULL
            )
            SQL);
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE upload');
        $this->addSql('DROP TABLE import');
        $this->addSql('DROP INDEX run_customer');
        $this->addSql('ALTER TABLE run DROP COLUMN customer_id');
        $this->addSql('ALTER TABLE customer DROP COLUMN run_id');
    }
}
