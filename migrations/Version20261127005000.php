<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Since when a tray waits for what it waits for. */
final class Version20261127005000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE tray ADD COLUMN waits_mark VARCHAR(160) DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN waits_since DATETIME DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE tray DROP COLUMN waits_mark');
        $this->addSql('ALTER TABLE tray DROP COLUMN waits_since');
    }
}
