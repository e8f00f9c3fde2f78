<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What phones hold is known of those in open trays alone; it is looked at anew, and the log says so. */
final class Version20261126234500 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('DELETE FROM holding');
    }

    public function down(Schema $schema): void
    {
        // What is gone comes back by itself.
        $this->addSql('SELECT 1');
    }
}
