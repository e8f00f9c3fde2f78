<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * Each time that something is brought onto a phone is a record of its own. A move told of one alone: that becomes its
 * first, and where it was about to be completed, what completes it the second.
 */
final class Version20261130200000 extends AbstractMigration
{
    /** Told by bringings from now on; the indexes of some go first. */
    private const NO_MORE = [
        'choices', 'scope', 'brings', 'merges', 'brings_missing', 'names_wanted', 'names_brought', 'names_bringing',
        'backup_id', 'rehearsal', 'restored_at', 'safety_copy_id', 'keeps', 'check_id', 'eyes', 'put_back_at',
    ];

    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE bringing (
                id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                move_id INTEGER NOT NULL REFERENCES move (id),
                number INTEGER NOT NULL,
                aim VARCHAR(20) NOT NULL,
                on_top_of_id INTEGER DEFAULT NULL REFERENCES bringing (id),
                backup_id VARCHAR(36) DEFAULT NULL REFERENCES backup (id),
                choices CLOB NOT NULL,
                scope CLOB DEFAULT NULL,
                brings CLOB DEFAULT NULL,
                merges BOOLEAN NOT NULL,
                names_wanted BOOLEAN NOT NULL,
                names_brought CLOB DEFAULT NULL,
                names_bringing CLOB DEFAULT NULL,
                rehearsal CLOB DEFAULT NULL,
                restored_at DATETIME DEFAULT NULL,
                safety_copy_id VARCHAR(36) DEFAULT NULL REFERENCES backup (id),
                keeps CLOB NOT NULL,
                check_id INTEGER DEFAULT NULL REFERENCES arrival_check (id),
                eyes CLOB NOT NULL,
                put_back_at DATETIME DEFAULT NULL
            )
            SQL);
        $this->addSql('CREATE UNIQUE INDEX bringing_number ON bringing (move_id, number)');
        $this->addSql('CREATE INDEX bringing_on_top_of ON bringing (on_top_of_id)');
        $this->addSql('CREATE INDEX bringing_backup ON bringing (backup_id)');
        $this->addSql('CREATE INDEX bringing_safety_copy ON bringing (safety_copy_id)');
        $this->addSql('CREATE UNIQUE INDEX bringing_check ON bringing (check_id)');
        // What is completed was put in place; when, only its check or its safety copy still tell.
        $this->addSql(<<<'SQL'
            INSERT INTO bringing (
                move_id, number, aim, backup_id, choices, scope, merges, names_wanted, names_brought, restored_at,
                safety_copy_id, keeps, check_id, eyes
            )
            SELECT m.id, 1, 'whole', m.backup_id, m.choices, m.scope, m.keeps <> '[]', m.names_wanted,
                m.names_brought,
                coalesce(
                    (SELECT max(c.at) FROM arrival_check c WHERE c.move_id = m.id),
                    (SELECT b.taken_at FROM backup b WHERE b.id = m.safety_copy_id),
                    (SELECT t.opened_at FROM tray t WHERE t.id = m.tray_id)
                ),
                m.safety_copy_id, m.keeps, (SELECT max(c.id) FROM arrival_check c WHERE c.move_id = m.id), m.eyes
            FROM move m
            WHERE m.brings_missing = 1
            SQL);
        $this->addSql(<<<'SQL'
            INSERT INTO bringing (
                move_id, number, aim, on_top_of_id, backup_id, choices, scope, brings, merges, names_wanted,
                names_brought, names_bringing, rehearsal, restored_at, safety_copy_id, keeps, check_id, eyes,
                put_back_at
            )
            SELECT m.id, CASE WHEN b.id IS NULL THEN 1 ELSE 2 END,
                CASE WHEN b.id IS NULL THEN 'whole' ELSE 'missing' END,
                b.id, m.backup_id, m.choices, m.scope, m.brings, m.merges, m.names_wanted,
                CASE WHEN b.id IS NULL THEN m.names_brought END, m.names_bringing, m.rehearsal,
                coalesce(m.restored_at, CASE WHEN m.put_back_at IS NOT NULL AND b.id IS NULL THEN (
                    SELECT max(c.at) FROM arrival_check c WHERE c.move_id = m.id
                ) END),
                CASE WHEN b.id IS NULL THEN m.safety_copy_id END, CASE WHEN b.id IS NULL THEN m.keeps ELSE '[]' END,
                CASE WHEN b.id IS NULL THEN m.check_id END, CASE WHEN b.id IS NULL THEN m.eyes ELSE '[]' END,
                m.put_back_at
            FROM move m LEFT JOIN bringing b ON b.move_id = m.id
            SQL);
        $this->addSql('ALTER TABLE arrival_check ADD COLUMN bringing_id INTEGER DEFAULT NULL REFERENCES bringing (id)');
        $this->addSql(
            'UPDATE arrival_check SET bringing_id = '
            .'(SELECT b.id FROM bringing b WHERE b.move_id = arrival_check.move_id AND b.number = 1)',
        );
        $this->addSql('DROP INDEX arrival_check_move');
        $this->addSql('ALTER TABLE arrival_check DROP COLUMN move_id');
        $this->addSql('CREATE INDEX arrival_check_bringing ON arrival_check (bringing_id)');
        foreach (['move_backup', 'move_check', 'move_safety_copy'] as $index) {
            $this->addSql('DROP INDEX '.$index);
        }
        foreach (self::NO_MORE as $column) {
            $this->addSql('ALTER TABLE move DROP COLUMN '.$column);
        }
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('What was brought several times does not fit into one record.');
    }
}
