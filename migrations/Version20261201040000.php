<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What a backup was taken for is one word, and it can be erased by itself. */
final class Version20261201040000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE backup ADD COLUMN origin VARCHAR(20) NOT NULL DEFAULT 'account'");
        $this->addSql("UPDATE backup SET origin = 'safety_copy' WHERE is_safety_copy = 1");
        $this->addSql('ALTER TABLE backup DROP COLUMN is_safety_copy');
        $this->addSql('ALTER TABLE backup ADD COLUMN erase_asked_by VARCHAR(60) DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN erased_at DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN gone CLOB DEFAULT NULL');
        $this->addSql(<<<'SQL'
            UPDATE backup
            SET erase_asked_by = (SELECT t.erase_asked_by FROM tray t WHERE t.id = backup.tray_id),
                erased_at = (SELECT t.erased_at FROM tray t WHERE t.id = backup.tray_id)
            WHERE erase_asked_at IS NOT NULL
            SQL);
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup ADD COLUMN is_safety_copy BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql("UPDATE backup SET is_safety_copy = 1 WHERE origin = 'safety_copy'");
        foreach (['origin', 'erase_asked_by', 'erased_at', 'gone'] as $column) {
            $this->addSql('ALTER TABLE backup DROP COLUMN '.$column);
        }
    }
}
