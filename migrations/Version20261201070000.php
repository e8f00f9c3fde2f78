<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Steps of a way in that no phone shows are told by a person. */
final class Version20261201070000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE step_told (
                id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                move_id INTEGER NOT NULL REFERENCES move (id),
                step VARCHAR(40) NOT NULL,
                is_left BOOLEAN NOT NULL,
                told_at DATETIME NOT NULL,
                told_by VARCHAR(60) NOT NULL,
                undone_at DATETIME DEFAULT NULL
            )
            SQL);
        $this->addSql('CREATE UNIQUE INDEX step_told_once ON step_told (move_id, step)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE step_told');
    }
}
