<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A step of the sheet tells what stays in the backup apart from what changes. Names are noted before they are put. */
final class Version20261130130000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            UPDATE step
            SET params = json_set(params, '$.left_out', 0)
            WHERE code = 'converted' AND json_extract(params, '$.left_out') IS NULL
            SQL);
        $this->addSql('ALTER TABLE move ADD COLUMN names_bringing CLOB DEFAULT NULL');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE move DROP COLUMN names_bringing');
    }
}
