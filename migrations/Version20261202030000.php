<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What the manager's figures are made of: what went wrong, how long a run was worked on, what a phone is. */
final class Version20261202030000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE setback (
                id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                move_id INTEGER DEFAULT NULL REFERENCES move (id),
                at DATETIME NOT NULL,
                kind VARCHAR(20) NOT NULL,
                reason VARCHAR(60) NOT NULL,
                params CLOB NOT NULL,
                is_end BOOLEAN NOT NULL
            )
            SQL);
        $this->addSql('CREATE INDEX setback_move ON setback (move_id)');
        $this->addSql('CREATE INDEX setback_at ON setback (at)');
        $this->addSql('CREATE INDEX tray_closed_at ON tray (closed_at)');
        $this->addSql('ALTER TABLE run ADD COLUMN worked_ms BIGINT NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE run ADD COLUMN hindered_at VARCHAR(160) DEFAULT NULL');
        $this->addSql("ALTER TABLE tray_phone ADD COLUMN model VARCHAR(120) NOT NULL DEFAULT ''");
        $this->addSql(<<<'SQL'
            UPDATE tray_phone
            SET model = (
                SELECT substr((phone.seen ->> '$.maker') || ' ' || (phone.seen ->> '$.model'), 1, 120)
                FROM phone
                WHERE phone.serial = tray_phone.serial
            )
            WHERE EXISTS (
                SELECT 1
                FROM phone
                WHERE phone.serial = tray_phone.serial AND json_valid(phone.seen)
                    AND phone.seen ->> '$.model' IS NOT NULL
                    AND phone.seen ->> '$.maker' IS NOT NULL
            )
            SQL);
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE tray_phone DROP COLUMN model');
        $this->addSql('ALTER TABLE run DROP COLUMN hindered_at');
        $this->addSql('ALTER TABLE run DROP COLUMN worked_ms');
        $this->addSql('DROP INDEX tray_closed_at');
        $this->addSql('DROP TABLE setback');
    }
}
