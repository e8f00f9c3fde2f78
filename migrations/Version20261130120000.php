<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * An uncovering is a lease. What the log says of a customer's people lies beside it. Its chain is sealed with a key of
 * the installation.
 */
final class Version20261130120000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE uncovering (
                id VARCHAR(32) NOT NULL PRIMARY KEY,
                session VARCHAR(64) NOT NULL,
                username VARCHAR(60) NOT NULL,
                subject VARCHAR(80) NOT NULL,
                number BIGINT NOT NULL,
                pieces CLOB NOT NULL,
                closed BOOLEAN NOT NULL,
                tray INTEGER NOT NULL,
                end_act VARCHAR(60) NOT NULL,
                end_params CLOB NOT NULL,
                used_at DATETIME NOT NULL
            )
            SQL);
        $this->addSql('CREATE INDEX uncovering_of ON uncovering (session, username, subject)');
        $this->addSql(<<<'SQL'
            CREATE TABLE log_name (
                ref VARCHAR(16) NOT NULL PRIMARY KEY,
                tray INTEGER NOT NULL,
                text CLOB NOT NULL
            )
            SQL);
        $this->addSql('CREATE INDEX log_name_tray ON log_name (tray)');
        $this->addSql('ALTER TABLE log_entry ADD COLUMN seal VARCHAR(64) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE uncovering');
        $this->addSql('DROP TABLE log_name');
        $this->addSql('ALTER TABLE log_entry DROP COLUMN seal');
    }
}
