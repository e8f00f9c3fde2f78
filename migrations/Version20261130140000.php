<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A run says itself whether it stages something on a phone, whatever kinds there are. */
final class Version20261130140000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN stages BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql("UPDATE run SET stages = 1 WHERE kind IN ('restore', 'put_back')");
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run DROP COLUMN stages');
    }
}
