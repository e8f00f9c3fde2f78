<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** People's names are brought into the receiving phone's address book where somebody wants it. */
final class Version20261127140000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE move ADD COLUMN names_wanted BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql('ALTER TABLE move ADD COLUMN names_brought CLOB DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE move DROP COLUMN names_wanted');
        $this->addSql('ALTER TABLE move DROP COLUMN names_brought');
    }
}
