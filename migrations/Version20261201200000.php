<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A customer can be forgotten, once that was seen for long enough to be their turn. */
final class Version20261201200000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE customer ADD COLUMN forgotten_at DATETIME DEFAULT NULL');
        $this->addSql('ALTER TABLE customer ADD COLUMN over_boot VARCHAR(60) DEFAULT NULL');
        $this->addSql('ALTER TABLE customer ADD COLUMN over_uptime DOUBLE PRECISION DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE customer DROP COLUMN over_uptime');
        $this->addSql('ALTER TABLE customer DROP COLUMN over_boot');
        $this->addSql('ALTER TABLE customer DROP COLUMN forgotten_at');
    }
}
