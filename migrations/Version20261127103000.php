<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** How long a tray's backups are kept behind the hand-over, and that they were erased; what was put back behind it. */
final class Version20261127103000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE tray ADD COLUMN keep_until DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN erase_asked_at DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN erase_asked_by VARCHAR(60) DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN erased_at DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN erased CLOB DEFAULT NULL');
        $this->addSql('ALTER TABLE tray_phone ADD COLUMN replaced BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE move ADD COLUMN put_back_at DATETIME DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        foreach (['keep_until', 'erase_asked_at', 'erase_asked_by', 'erased_at', 'erased'] as $column) {
            $this->addSql("ALTER TABLE tray DROP COLUMN $column");
        }
        $this->addSql('ALTER TABLE tray_phone DROP COLUMN replaced');
        $this->addSql('ALTER TABLE move DROP COLUMN put_back_at');
    }
}
