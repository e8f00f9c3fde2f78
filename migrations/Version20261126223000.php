<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Since when a key is kept. */
final class Version20261126223000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN key_at DATETIME DEFAULT NULL');
        $this->addSql('UPDATE run SET key_at = asked_at WHERE locked_key IS NOT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run DROP COLUMN key_at');
    }
}
