<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * What a phone held when it was merged with stays expected there. What could not be read of it is told, and agreed to.
 */
final class Version20261130110000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE move ADD COLUMN keeps CLOB NOT NULL DEFAULT '[]'");
        $this->addSql(<<<'SQL'
            UPDATE move
            SET keeps = json_array(json_extract(rehearsal, '$.merged_with'))
            WHERE restored_at IS NOT NULL AND json_extract(rehearsal, '$.merged_with') IS NOT NULL
            SQL);
        $this->addSql('ALTER TABLE backup ADD COLUMN loss_uncounted BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE run ADD COLUMN unreadable INTEGER DEFAULT NULL');
        $this->addSql('ALTER TABLE tray ADD COLUMN withdrawn BOOLEAN NOT NULL DEFAULT 0');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE move DROP COLUMN keeps');
        $this->addSql('ALTER TABLE backup DROP COLUMN loss_uncounted');
        $this->addSql('ALTER TABLE run DROP COLUMN unreadable');
        $this->addSql('ALTER TABLE tray DROP COLUMN withdrawn');
    }
}
