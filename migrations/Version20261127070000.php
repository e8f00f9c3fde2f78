<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * A backup may be taken from one that the messenger made of itself; what a phone holds of them is looked at anew. A
 * tray may only back up.
 */
final class Version20261127070000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE tray ADD COLUMN errand VARCHAR(20) NOT NULL DEFAULT 'move'");
        $this->addSql('ALTER TABLE run ADD COLUMN local_backup CLOB DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN made_at DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN locked_with VARCHAR(10) DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN without_videos BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql("UPDATE backup SET way_in = 'local_backup' WHERE way_in = 'sealed_on_phone'");
        $this->addSql('ALTER TABLE holding DROP COLUMN sealed');
        $this->addSql('ALTER TABLE holding DROP COLUMN bytes_beside_sealed');
        $this->addSql('ALTER TABLE holding ADD COLUMN over_cable BOOLEAN DEFAULT NULL');
        $this->addSql("ALTER TABLE holding ADD COLUMN local_backups CLOB NOT NULL DEFAULT '[]'");
        $this->addSql('UPDATE holding SET mark = NULL, looked_at_mark = NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE tray DROP COLUMN errand');
        $this->addSql('ALTER TABLE run DROP COLUMN local_backup');
        $this->addSql("UPDATE backup SET way_in = 'sealed_on_phone' WHERE way_in = 'local_backup'");
        $this->addSql('ALTER TABLE backup DROP COLUMN made_at');
        $this->addSql('ALTER TABLE backup DROP COLUMN locked_with');
        $this->addSql('ALTER TABLE backup DROP COLUMN without_videos');
        $this->addSql('ALTER TABLE holding DROP COLUMN over_cable');
        $this->addSql('ALTER TABLE holding DROP COLUMN local_backups');
        $this->addSql('ALTER TABLE holding ADD COLUMN sealed CLOB DEFAULT NULL');
        $this->addSql('ALTER TABLE holding ADD COLUMN bytes_beside_sealed BIGINT DEFAULT NULL');
    }
}
