<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What was chosen for losses that leave a choice, and what a damaged phone had lost before it was backed up. */
final class Version20261125040000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'Choices of a tray; messages that a backup could not read.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE tray ADD COLUMN choices CLOB NOT NULL DEFAULT '[]'");
        $this->addSql('ALTER TABLE backup ADD COLUMN lost INTEGER NOT NULL DEFAULT 0');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE tray DROP COLUMN choices');
        $this->addSql('ALTER TABLE backup DROP COLUMN lost');
    }
}
