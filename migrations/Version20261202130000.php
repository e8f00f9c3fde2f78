<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Of several things that what is imported holds, somebody says which is meant. */
final class Version20261202130000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE import ADD COLUMN parts CLOB NOT NULL DEFAULT '[]'");
        $this->addSql("ALTER TABLE import ADD COLUMN chosen CLOB NOT NULL DEFAULT '[]'");
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE import DROP COLUMN chosen');
        $this->addSql('ALTER TABLE import DROP COLUMN parts');
    }
}
