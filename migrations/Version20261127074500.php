<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What a receiving phone held is kept before it is written to, and can be put back. */
final class Version20261127074500 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup ADD COLUMN is_safety_copy BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE run ADD COLUMN replaces INTEGER DEFAULT NULL');
        $this->addSql(
            'ALTER TABLE move ADD COLUMN safety_copy_id VARCHAR(36) DEFAULT NULL REFERENCES backup (id)',
        );
        $this->addSql('CREATE INDEX move_safety_copy ON move (safety_copy_id)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP INDEX move_safety_copy');
        $this->addSql('ALTER TABLE move DROP COLUMN safety_copy_id');
        $this->addSql('ALTER TABLE run DROP COLUMN replaces');
        $this->addSql('ALTER TABLE backup DROP COLUMN is_safety_copy');
    }
}
