<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Runs count how often they were begun, know what room there was when there was none, and can be stopped. */
final class Version20261126110000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Attempts, room and stopping of runs';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN attempts INTEGER NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE run ADD COLUMN free_when_full BIGINT DEFAULT NULL');
        $this->addSql('ALTER TABLE run ADD COLUMN stopped_by VARCHAR(60) DEFAULT NULL');
        $this->addSql('ALTER TABLE run DROP COLUMN checkpoint');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN checkpoint VARCHAR(40) DEFAULT NULL');
        $this->addSql('ALTER TABLE run DROP COLUMN attempts');
        $this->addSql('ALTER TABLE run DROP COLUMN free_when_full');
        $this->addSql('ALTER TABLE run DROP COLUMN stopped_by');
    }
}
