<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What a customer's eyes have compared since a check. */
final class Version20261127110000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE move ADD COLUMN eyes CLOB NOT NULL DEFAULT '[]'");
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE move DROP COLUMN eyes');
    }
}
