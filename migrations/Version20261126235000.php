<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** Sessions are listed and can be ended one by one. Numbers are never given again: an ended session stays ended. */
final class Version20261126235000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE sign_in (
                id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                session VARCHAR(64) NOT NULL UNIQUE,
                username VARCHAR(60) NOT NULL,
                address VARCHAR(45) NOT NULL,
                begun_at DATETIME NOT NULL,
                used_at DATETIME NOT NULL
            )
            SQL);
        $this->addSql('CREATE INDEX sign_in_username ON sign_in (username)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE sign_in');
    }
}
