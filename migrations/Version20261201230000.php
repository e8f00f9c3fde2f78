<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A backup can be held against an earlier one of the same account. */
final class Version20261201230000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE held_against (
                id VARCHAR(36) NOT NULL,
                backup_id VARCHAR(36) NOT NULL,
                earlier_id VARCHAR(36) NOT NULL,
                made_at DATETIME DEFAULT NULL,
                asked_at DATETIME NOT NULL,
                PRIMARY KEY (id),
                FOREIGN KEY (backup_id) REFERENCES backup (id),
                FOREIGN KEY (earlier_id) REFERENCES backup (id)
            )
            SQL);
        $this->addSql('CREATE INDEX held_against_backup ON held_against (backup_id)');
        $this->addSql('CREATE INDEX held_against_earlier ON held_against (earlier_id)');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE held_against');
    }
}
