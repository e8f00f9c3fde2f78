<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A kept backup is read back on demand, and says when it was last, and what was wrong. */
final class Version20261201043000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup ADD COLUMN verify_asked_at DATETIME DEFAULT NULL');
        $this->addSql("ALTER TABLE backup ADD COLUMN verified_at DATETIME NOT NULL DEFAULT '1970-01-01 00:00:00'");
        $this->addSql('UPDATE backup SET verified_at = taken_at');
        $this->addSql('ALTER TABLE backup ADD COLUMN trouble VARCHAR(60) DEFAULT NULL');
        $this->addSql("ALTER TABLE backup ADD COLUMN trouble_params CLOB NOT NULL DEFAULT '[]'");
    }

    public function down(Schema $schema): void
    {
        foreach (['verify_asked_at', 'verified_at', 'trouble', 'trouble_params'] as $column) {
            $this->addSql('ALTER TABLE backup DROP COLUMN '.$column);
        }
    }
}
