<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** A run is of a move, of a backup or of the shop; reading a backup back is one, with progress, as all long work is. */
final class Version20261201060000 extends AbstractMigration
{
    private const OPEN = "state IN ('queued', 'working', 'waiting')";

    public function up(Schema $schema): void
    {
        $this->addSql('DROP INDEX run_open');
        $this->addSql('DROP INDEX run_move');
        // Taken over in a column of its own: nothing that refers to a run is touched.
        $this->addSql('ALTER TABLE run ADD COLUMN of_move INTEGER DEFAULT NULL REFERENCES move (id)');
        $this->addSql('UPDATE run SET of_move = move_id');
        // Told with it now: what comes of resting is not the same for all.
        $this->addSql(
            "UPDATE run SET trouble_params = json_set(trouble_params, '$.kind', kind) WHERE trouble = 'paused' "
                ."AND json_type(trouble_params) = 'object'",
        );
        $this->addSql('ALTER TABLE run DROP COLUMN move_id');
        $this->addSql('ALTER TABLE run RENAME COLUMN of_move TO move_id');
        $this->addSql('ALTER TABLE run ADD COLUMN backup_id VARCHAR(36) DEFAULT NULL REFERENCES backup (id)');
        $this->addSql('CREATE INDEX run_move ON run (move_id)');
        $this->addSql('CREATE INDEX run_backup ON run (backup_id)');
        $this->addSql('CREATE UNIQUE INDEX run_open ON run (move_id) WHERE '.self::OPEN);
        $this->addSql('CREATE UNIQUE INDEX run_open_backup ON run (backup_id) WHERE '.self::OPEN);
        $this->addSql(
            'CREATE UNIQUE INDEX run_open_shop ON run (kind) WHERE move_id IS NULL AND backup_id IS NULL AND '
                .self::OPEN,
        );
        $this->addSql('ALTER TABLE backup ADD COLUMN run_id VARCHAR(36) DEFAULT NULL REFERENCES run (id)');
        // What was asked for and not answered is asked for still; the foreman hands it out.
        $this->addSql(<<<'SQL'
            INSERT INTO run (
                id, counter, backup_id, kind, stages, state, asked_at, asked_by, trouble_params, attempts,
                left_on_phone, phase, items_done, items_total, bytes_done, bytes_total, phase_started_at,
                bytes_before, items_before, moved_at
            )
            SELECT
                lower(format('%s-%s-4%s-8%s-%s', hex(randomblob(4)), hex(randomblob(2)),
                    substr(hex(randomblob(2)), 2), substr(hex(randomblob(2)), 2), hex(randomblob(6)))),
                (SELECT coalesce(max(counter), 0) FROM run) + ROW_NUMBER() OVER (ORDER BY counter),
                id, 'verification', 0, 'queued', verify_asked_at, 'bench', '[]', 0,
                0, '', 0, 0, 0, 0, 0, 0, 0, 0
            FROM backup
            WHERE verify_asked_at IS NOT NULL AND erase_asked_at IS NULL
            SQL);
        $this->addSql('UPDATE backup SET run_id = (SELECT r.id FROM run r WHERE r.backup_id = backup.id)');
        $this->addSql("DELETE FROM messenger_messages WHERE instr(body, 'VerifyBackup') > 0");
        $this->addSql('ALTER TABLE backup DROP COLUMN verify_asked_at');
    }

    public function down(Schema $schema): void
    {
        $this->addSql('ALTER TABLE backup ADD COLUMN verify_asked_at DATETIME DEFAULT NULL');
        $this->addSql(
            'UPDATE backup SET verify_asked_at = (SELECT r.asked_at FROM run r WHERE r.id = backup.run_id AND r.'
                .self::OPEN.')',
        );
        $this->addSql('ALTER TABLE backup DROP COLUMN run_id');
        $this->addSql('DELETE FROM run WHERE move_id IS NULL');
        foreach (['run_open', 'run_open_backup', 'run_open_shop', 'run_move', 'run_backup'] as $index) {
            $this->addSql('DROP INDEX '.$index);
        }
        $this->addSql('ALTER TABLE run DROP COLUMN backup_id');
        $this->addSql('CREATE INDEX run_move ON run (move_id)');
        $this->addSql('CREATE UNIQUE INDEX run_open ON run (move_id) WHERE '.self::OPEN);
    }
}
