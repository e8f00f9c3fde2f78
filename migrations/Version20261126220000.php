<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;
use Geschenk\App\Log\LogChain;
use Geschenk\App\Log\LogLine;

/** Each entry of the log covers the one before; the entries that are there are covered as they are. */
final class Version20261126220000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql("ALTER TABLE log_entry ADD COLUMN hash VARCHAR(64) NOT NULL DEFAULT ''");
        // Numbers have been given without a gap; where rows were taken out before, none is seen for it.
        $this->addSql(<<<'SQL'
            UPDATE log_entry SET id = -numbered.n
            FROM (SELECT id, ROW_NUMBER() OVER (ORDER BY id) AS n FROM log_entry) numbered
            WHERE numbered.id = log_entry.id
            SQL);
        $this->addSql('UPDATE log_entry SET id = -id');
        $this->addSql(<<<'SQL'
            UPDATE sqlite_sequence SET seq = (SELECT COALESCE(MAX(id), 0) FROM log_entry) WHERE name = 'log_entry'
            SQL);
    }

    public function postUp(Schema $schema): void
    {
        $before = '';
        // As the table is at this step; what is added to it later is not there yet.
        $entries = 'SELECT id, at, done_by, act, tray_number, params FROM log_entry ORDER BY id';
        /** @var array{id: int, at: string, done_by: string, act: string, tray_number: ?int, params: string} $entry */
        foreach ($this->connection->fetchAllAssociative($entries) as $entry) {
            $before = LogChain::hash($before, new LogLine(
                $entry['id'], $entry['at'], $entry['done_by'], $entry['act'], $entry['tray_number'], $entry['params'],
            ));
            $this->connection->executeStatement(
                'UPDATE log_entry SET hash = ? WHERE id = ?', [$before, $entry['id']],
            );
        }
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE log_entry DROP COLUMN hash');
    }
}
