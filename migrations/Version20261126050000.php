<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The key of a sealed backup, locked, while the run that needs it goes on. */
final class Version20261126050000 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'The locked key of a sealed backup, while a run needs it.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run ADD COLUMN locked_key VARCHAR(1000) DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE run DROP COLUMN locked_key');
    }
}
