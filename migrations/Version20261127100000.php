<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What goes across can be chosen, the shop keeps a habit of it, and chats can be merged with those that are there. */
final class Version20261127100000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE move ADD COLUMN scope CLOB DEFAULT NULL');
        $this->addSql('ALTER TABLE move ADD COLUMN brings CLOB DEFAULT NULL');
        $this->addSql('ALTER TABLE move ADD COLUMN merges BOOLEAN NOT NULL DEFAULT 0');
        $this->addSql(
            'CREATE TABLE habit (id INTEGER NOT NULL, groups CLOB NOT NULL, archived BOOLEAN NOT NULL, '
                .'empty BOOLEAN NOT NULL, quiet_months INTEGER DEFAULT NULL, PRIMARY KEY (id))',
        );
        $this->addSql("UPDATE step SET stage = 'choose' WHERE stage = 'look'");
        $this->addSql(
            "UPDATE move SET rehearsal = json_set(rehearsal, '$.totals.kept', 0, '$.totals.kept_missing', 0) "
                ."WHERE rehearsal IS NOT NULL AND rehearsal <> 'null'",
        );
        $this->addSql(
            "UPDATE arrival_check SET totals = json_set(totals, '$.kept', 0, '$.kept_missing', 0)",
        );
    }

    public function down(Schema $schema): void
    {
        $this->addSql("UPDATE step SET stage = 'look' WHERE stage = 'choose'");
        $this->addSql('DROP TABLE habit');
        $this->addSql('ALTER TABLE move DROP COLUMN merges');
        $this->addSql('ALTER TABLE move DROP COLUMN brings');
        $this->addSql('ALTER TABLE move DROP COLUMN scope');
    }
}
