<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * A run names its phone itself, whatever becomes of roles meanwhile. What was followed by another run can't go on, and
 * holds no phone.
 */
final class Version20261130093000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN serial VARCHAR(40) DEFAULT NULL');
        $this->addSql('ALTER TABLE run ADD COLUMN died_at VARCHAR(120) DEFAULT NULL');
        $this->addSql(<<<'SQL'
            UPDATE run
            SET serial = (
                SELECT p.serial
                FROM move m JOIN tray_phone p ON p.tray_id = m.tray_id
                WHERE m.id = run.move_id AND p.replaced = 0
                    AND p.role = IIF(run.kind = 'backup', 'gives', 'receives')
            )
            WHERE kind <> 'conversion' OR EXISTS (SELECT 1 FROM move m WHERE m.id = run.move_id AND m.merges)
            SQL);
        $this->addSql(<<<'SQL'
            UPDATE run
            SET state = 'cancelled'
            WHERE kind IN ('restore', 'put_back') AND state IN ('paused', 'failed')
                AND id NOT IN (SELECT run_id FROM move WHERE run_id IS NOT NULL)
            SQL);
        $this->addSql('CREATE INDEX run_serial ON run (serial)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP INDEX run_serial');
        $this->addSql('ALTER TABLE run DROP COLUMN serial');
        $this->addSql('ALTER TABLE run DROP COLUMN died_at');
    }
}
