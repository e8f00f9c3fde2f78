<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** One backup can be kept until a day of its own, earlier than the rest of its tray or later. */
final class Version20261201063000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup ADD COLUMN keep_until DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN over_boot VARCHAR(60) DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN over_uptime DOUBLE PRECISION DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        foreach (['keep_until', 'over_boot', 'over_uptime'] as $column) {
            $this->addSql('ALTER TABLE backup DROP COLUMN '.$column);
        }
    }
}
