<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A copy at the second place is known for as long as it lies there, also where what it is of has no record left. */
final class Version20261202020000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE placed_copy ADD COLUMN dropped_at DATETIME DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE placed_copy DROP COLUMN dropped_at');
    }
}
