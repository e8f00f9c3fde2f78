<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A backup says itself whether it is kept: trays that it was not made in can bring it. */
final class Version20261130210000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup ADD COLUMN erase_asked_at DATETIME DEFAULT NULL');
        $this->addSql(
            'UPDATE backup SET erase_asked_at = (SELECT t.erase_asked_at FROM tray t WHERE t.id = backup.tray_id)',
        );
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup DROP COLUMN erase_asked_at');
    }
}
