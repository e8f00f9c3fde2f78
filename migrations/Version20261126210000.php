<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Guesses of passwords are counted where two of them at once can't miss each other. */
final class Version20261126210000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE guess (
                subject VARCHAR(64) PRIMARY KEY NOT NULL,
                since INTEGER NOT NULL,
                guesses INTEGER NOT NULL
            ) WITHOUT ROWID
            SQL);
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE guess');
    }
}
