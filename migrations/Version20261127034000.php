<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * A run can be paused, and cancelled with what it has done; one that was stopped before is paused. How fast each phone
 * and this computer are is measured.
 */
final class Version20261127034000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN stop_wish VARCHAR(10) DEFAULT NULL');
        $this->addSql('ALTER TABLE run ADD COLUMN left_on_phone BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql(<<<'SQL'
            CREATE TABLE pace (
                kind VARCHAR(20) NOT NULL, phase VARCHAR(40) NOT NULL, serial VARCHAR(40) NOT NULL,
                per_second DOUBLE PRECISION NOT NULL, PRIMARY KEY (kind, phase, serial)
            )
            SQL);
        $this->addSql("UPDATE run SET stop_wish = 'pause' WHERE stopped_by IS NOT NULL");
        $this->addSql(
            "UPDATE run SET state = 'paused', trouble = 'paused' WHERE state = 'failed' AND trouble = 'stopped'",
        );
    }

    public function down(Schema $schema): void
    {
        $this->addSql(
            "UPDATE run SET state = 'failed', trouble = 'stopped' WHERE state IN ('paused', 'cancelling', 'cancelled')",
        );
        $this->addSql('DROP TABLE pace');
        $this->addSql('ALTER TABLE run DROP COLUMN stop_wish');
        $this->addSql('ALTER TABLE run DROP COLUMN left_on_phone');
    }
}
