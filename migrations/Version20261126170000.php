<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * Moves between trays and everything else, kept checks, phones as last seen; codes with parameters where sentences
 * were; counters for the order that no clock decides. What the version before left is carried across, its files too.
 */
final class Version20261126170000 extends AbstractMigration
{
    private const COUNTS = [
        'arrived', 'changed', 'left_out', 'missing', 'extra', 'added', 'added_missing',
    ];

    public function getDescription(): string
    {
        return 'Moves, kept checks, phones as last seen.';
    }

    public function up(Schema $schema): void
    {
        foreach ([...self::moves(), ...self::records(), ...self::phones(), ...self::words()] as $sql) {
            $this->addSql($sql);
        }
    }

    /** What the records said by files that lay about is now said by themselves. */
    public function postUp(Schema $schema): void
    {
        $params = $this->connection->getParams();
        $data = dirname($params['path'] ?? '');
        $sql = 'SELECT m.id, t.number FROM move m JOIN tray t ON t.id = m.tray_id';
        /** @var array<int, int> $trays */
        $trays = $this->connection->fetchAllKeyValue($sql);
        foreach ($trays as $move => $number) {
            $folder = sprintf('%s/trays/%d', $data, $number);
            if (is_dir($folder)) {
                $this->carryFiles($move, $folder);
            }
        }
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('What was noted as codes is not made into sentences again.');
    }

    private function carryFiles(int $move, string $folder): void
    {
        $new = $folder.'/moves/1';
        @mkdir($new.'/checks', 0o700, true);
        foreach (['conversion', 'read-back.sqlite'] as $name) {
            if (file_exists($folder.'/'.$name)) {
                rename($folder.'/'.$name, $new.'/'.$name);
            }
        }
        /** @var array{losses?: list<array<string, mixed>>}|null $plan as the version before wrote it */
        $plan = @json_decode((string) @file_get_contents($new.'/conversion/plan.json'), true);
        $totals = $this->totals($new.'/conversion/rehearsal.sqlite');
        if (is_array($plan) && null !== $totals) {
            foreach ($plan['losses'] ?? [] as $n => $loss) {
                $choices = is_array($loss['choices'] ?? null) ? $loss['choices'] : [];
                $plan['losses'][$n] = [
                    'choices' => array_column($choices, 'key'),
                ] + array_diff_key($loss, ['sentence' => 1]);
            }
            $rehearsal = [
                'attachments_absent' => $this->absent($new.'/conversion/expected.sqlite'), 'totals' => $totals,
            ];
            $this->connection->update('move', ['rehearsal' => json_encode($plan + $rehearsal)], ['id' => $move]);
        }
        $sql = "SELECT * FROM run WHERE move_id = ? AND kind = 'check' AND state = 'done' ORDER BY counter DESC "
            .'LIMIT 1';
        /** @var array<string, string|int|null>|false $run */
        $run = $this->connection->fetchAssociative($sql, [$move]);
        $totals = $this->totals($folder.'/arrival.sqlite');
        if (false === $run || null === $totals) {
            return;
        }
        rename($folder.'/arrival.sqlite', sprintf('%s/checks/%s.sqlite', $new, $run['id']));
        $this->connection->insert('arrival_check', [
            'move_id' => $move, 'run_id' => $run['id'], 'at' => $run['finished_at'], 'done_by' => $run['asked_by'],
            'totals' => json_encode($totals),
        ]);
        $this->connection->update('move', ['check_id' => $this->connection->lastInsertId()], ['id' => $move]);
    }

    /** @return array<string, int|bool>|null null when there is none that can be read */
    private function totals(string $path): ?array
    {
        if (!is_file($path)) {
            return null;
        }
        $sums = implode(', ', array_map(static fn (string $c): string => "TOTAL($c) AS $c", self::COUNTS));
        $sql = <<<SQL
            SELECT COUNT(*) AS conversations, TOTAL(arrived + changed + left_out + missing) AS messages, $sums,
                TOTAL(settings <> '')
                    + TOTAL(verdict = 'missing' AND missing = 0 AND added_missing = 0 AND settings = '')
                    AS settings_differing,
                (SELECT TOTAL(differing) FROM account) AS account_differing,
                TOTAL(verdict = 'extra' AND extra = 0) AS conversations_extra
            FROM conversation
            SQL;
        $row = $this->row($path, $sql);
        if (null === $row) {
            return null;
        }
        $totals = array_map(static fn (mixed $sum): int => is_numeric($sum) ? (int) $sum : 0, $row);
        $differing = [
            'missing', 'added_missing', 'extra', 'conversations_extra', 'settings_differing', 'account_differing',
        ];

        return $totals + ['complete' => 0 === array_sum(array_intersect_key($totals, array_flip($differing)))];
    }

    private function absent(string $path): int
    {
        $row = $this->row(
            $path, "SELECT COUNT(*) AS n FROM attachment WHERE presence NOT IN ('present', 'wrong_type')",
        );

        return is_int($row['n'] ?? null) ? $row['n'] : 0;
    }

    /** @return array<string, mixed>|null */
    private function row(string $path, string $sql): ?array
    {
        try {
            $database = new \SQLite3($path, \SQLITE3_OPEN_READONLY);
            $database->enableExceptions(true);
            $row = $database->querySingle($sql, true);
            $database->close();

            /** @var array<string, mixed> $row */
            return is_array($row) && [] !== $row ? $row : null;
        } catch (\Exception) {
            return null;
        }
    }

    /** @return list<string> */
    private static function moves(): array
    {
        return [
            <<<'SQL'
                CREATE TABLE move (
                    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                    tray_id INTEGER NOT NULL REFERENCES tray (id),
                    place INTEGER NOT NULL,
                    app VARCHAR(40) NOT NULL,
                    edition VARCHAR(60) NOT NULL,
                    choices CLOB NOT NULL,
                    left_out_at DATETIME DEFAULT NULL,
                    run_id VARCHAR(36) DEFAULT NULL REFERENCES run (id),
                    backup_id VARCHAR(36) DEFAULT NULL REFERENCES backup (id),
                    rehearsal CLOB DEFAULT NULL,
                    restored_at DATETIME DEFAULT NULL,
                    check_id INTEGER DEFAULT NULL REFERENCES arrival_check (id)
                )
                SQL,
            'CREATE UNIQUE INDEX move_place ON move (tray_id, place)',
            <<<'SQL'
                CREATE TABLE arrival_check (
                    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                    move_id INTEGER NOT NULL REFERENCES move (id),
                    run_id VARCHAR(36) NOT NULL,
                    at DATETIME NOT NULL,
                    done_by VARCHAR(60) NOT NULL,
                    totals CLOB NOT NULL
                )
                SQL,
            'CREATE INDEX arrival_check_move ON arrival_check (move_id)',
            "INSERT INTO move (tray_id, place, app, edition, choices) SELECT id, 1, app, 'Otterpost', choices "
                .'FROM tray',
        ];
    }

    /** @return list<string> */
    private static function records(): array
    {
        $runColumns = 'state, finished_at, trouble, trouble_params, attempts, free_when_full, stopped_by, locked_key, '
            .'phase, '
            .'items_done, items_total, bytes_done, bytes_total, phase_started_at, bytes_before, items_before, '
            .'moved_at, id, '
            .'kind, asked_at, asked_by, confirmed_tag';
        $runValues = str_replace('trouble, trouble_params', "CASE WHEN trouble IS NULL THEN NULL ELSE 'told' END, "
            ."CASE WHEN trouble IS NULL THEN '[]' ELSE json_object('text', trouble) END", $runColumns);

        return [
            <<<'SQL'
                CREATE TABLE run_new (
                    id VARCHAR(36) PRIMARY KEY NOT NULL,
                    counter INTEGER NOT NULL,
                    move_id INTEGER NOT NULL REFERENCES move (id),
                    kind VARCHAR(20) NOT NULL,
                    state VARCHAR(20) NOT NULL,
                    asked_at DATETIME NOT NULL,
                    asked_by VARCHAR(60) NOT NULL,
                    finished_at DATETIME DEFAULT NULL,
                    confirmed_tag VARCHAR(20) DEFAULT NULL,
                    trouble VARCHAR(60) DEFAULT NULL,
                    trouble_params CLOB NOT NULL,
                    attempts INTEGER NOT NULL,
                    free_when_full BIGINT DEFAULT NULL,
                    stopped_by VARCHAR(60) DEFAULT NULL,
                    locked_key VARCHAR(1000) DEFAULT NULL,
                    phase VARCHAR(40) NOT NULL,
                    items_done INTEGER NOT NULL,
                    items_total INTEGER NOT NULL,
                    bytes_done BIGINT NOT NULL,
                    bytes_total BIGINT NOT NULL,
                    phase_started_at DOUBLE PRECISION NOT NULL,
                    bytes_before BIGINT NOT NULL,
                    items_before INTEGER NOT NULL,
                    moved_at DOUBLE PRECISION NOT NULL
                )
                SQL,
            <<<SQL
                INSERT INTO run_new (counter, move_id, $runColumns)
                SELECT ROW_NUMBER() OVER (ORDER BY rowid), (SELECT m.id FROM move m WHERE m.tray_id = run.tray_id),
                    $runValues
                FROM run
                SQL,
            'DROP TABLE run',
            'ALTER TABLE run_new RENAME TO run',
            // Two open runs of one move, which the version before let through: the later one is over.
            <<<'SQL'
                UPDATE run SET state = 'failed', trouble = 'unexpected', trouble_params = '[]'
                WHERE state IN ('queued', 'working', 'waiting') AND EXISTS (
                    SELECT 1 FROM run r
                    WHERE r.move_id = run.move_id AND r.counter < run.counter
                        AND r.state IN ('queued', 'working', 'waiting')
                )
                SQL,
            'CREATE UNIQUE INDEX run_counter ON run (counter)',
            "CREATE UNIQUE INDEX run_open ON run (move_id) WHERE state IN ('queued', 'working', 'waiting')",
            'CREATE INDEX run_move ON run (move_id)',
            <<<'SQL'
                CREATE TABLE backup_new (
                    id VARCHAR(36) PRIMARY KEY NOT NULL,
                    counter INTEGER NOT NULL,
                    tray_id INTEGER NOT NULL REFERENCES tray (id),
                    serial VARCHAR(40) NOT NULL,
                    app VARCHAR(40) NOT NULL,
                    edition VARCHAR(60) NOT NULL,
                    way_in VARCHAR(20) NOT NULL,
                    taken_at DATETIME NOT NULL,
                    account VARCHAR(20) NOT NULL,
                    conversations INTEGER NOT NULL,
                    messages INTEGER NOT NULL,
                    attachments INTEGER NOT NULL,
                    attachments_absent INTEGER NOT NULL,
                    attachment_bytes INTEGER NOT NULL,
                    newest_at BIGINT DEFAULT NULL,
                    lost INTEGER NOT NULL
                )
                SQL,
            <<<'SQL'
                INSERT INTO backup_new
                SELECT b.id, ROW_NUMBER() OVER (ORDER BY b.rowid), b.tray_id, b.serial, t.app, 'Otterpost', 'cable',
                    b.taken_at,
                    b.account, b.conversations, b.messages, b.attachments, b.attachments_absent, b.attachment_bytes,
                    b.newest_at, b.lost
                FROM backup b JOIN tray t ON t.id = b.tray_id
                SQL,
            'DROP TABLE backup',
            'ALTER TABLE backup_new RENAME TO backup',
            'CREATE UNIQUE INDEX backup_counter ON backup (counter)',
            'CREATE INDEX backup_tray ON backup (tray_id)',
            <<<'SQL'
                UPDATE move SET
                    run_id = (SELECT r.id FROM run r WHERE r.move_id = move.id ORDER BY r.counter DESC LIMIT 1),
                    restored_at = (
                        SELECT MAX(r.finished_at) FROM run r
                        WHERE r.move_id = move.id AND r.kind = 'restore' AND r.state = 'done'
                    ),
                    backup_id = (
                        SELECT b.id FROM backup b JOIN tray_phone p ON p.tray_id = b.tray_id AND p.serial = b.serial
                        WHERE b.tray_id = move.tray_id AND p.role = 'gives' ORDER BY b.counter DESC LIMIT 1
                    )
                SQL,
            'CREATE UNIQUE INDEX move_run ON move (run_id)',
            'CREATE INDEX move_backup ON move (backup_id)',
            'CREATE UNIQUE INDEX move_check ON move (check_id)',
            'ALTER TABLE tray_phone ADD COLUMN held BOOLEAN NOT NULL DEFAULT 0',
            <<<'SQL'
                UPDATE tray_phone SET held = 1
                WHERE EXISTS (SELECT 1 FROM tray t WHERE t.id = tray_phone.tray_id AND t.closed_at IS NULL)
                SQL,
            'CREATE UNIQUE INDEX tray_phone_held ON tray_phone (serial) WHERE held = 1',
            "ALTER TABLE tray ADD COLUMN language VARCHAR(12) NOT NULL DEFAULT 'en'",
            "ALTER TABLE tray ADD COLUMN changed_at DATETIME NOT NULL DEFAULT '1970-01-01 00:00:00'",
            <<<'SQL'
                UPDATE tray SET changed_at = COALESCE(
                    (SELECT s.at FROM step s WHERE s.tray_id = tray.id ORDER BY s.id DESC LIMIT 1), opened_at
                )
                SQL,
            'ALTER TABLE tray DROP COLUMN app',
            'ALTER TABLE tray DROP COLUMN choices',
            "ALTER TABLE shop_user ADD COLUMN language VARCHAR(12) NOT NULL DEFAULT 'en'",
        ];
    }

    /** @return list<string> */
    private static function phones(): array
    {
        return [
            <<<'SQL'
                CREATE TABLE phone (
                    serial VARCHAR(40) PRIMARY KEY NOT NULL,
                    seen CLOB NOT NULL,
                    on_bench BOOLEAN NOT NULL,
                    seen_at DATETIME NOT NULL
                )
                SQL,
            <<<'SQL'
                CREATE TABLE holding (
                    serial VARCHAR(40) NOT NULL,
                    app VARCHAR(40) NOT NULL,
                    mark VARCHAR(64) DEFAULT NULL,
                    looked_at_mark VARCHAR(64) DEFAULT NULL,
                    counts CLOB DEFAULT NULL,
                    trouble VARCHAR(60) DEFAULT NULL,
                    trouble_params CLOB NOT NULL,
                    sealed CLOB DEFAULT NULL,
                    bytes_beside_sealed BIGINT DEFAULT NULL,
                    tries INTEGER NOT NULL,
                    PRIMARY KEY (serial, app)
                )
                SQL,
        ];
    }

    /** @return list<string> what was told as a sentence stays as it was told */
    private static function words(): array
    {
        return [
            <<<'SQL'
                CREATE TABLE step_new (
                    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                    tray_id INTEGER NOT NULL REFERENCES tray (id),
                    move_id INTEGER DEFAULT NULL REFERENCES move (id),
                    stage VARCHAR(20) NOT NULL,
                    at DATETIME NOT NULL,
                    done_by VARCHAR(60) NOT NULL,
                    code VARCHAR(60) NOT NULL,
                    params CLOB NOT NULL
                )
                SQL,
            <<<'SQL'
                INSERT INTO step_new
                SELECT s.id, s.tray_id, CASE WHEN s.stage IN ('intake', 'ready', 'hand_over') THEN NULL ELSE m.id END,
                    s.stage, s.at, s.done_by, 'told', json_object('text', s.text)
                FROM step s JOIN move m ON m.tray_id = s.tray_id
                SQL,
            'DROP TABLE step',
            'ALTER TABLE step_new RENAME TO step',
            'CREATE INDEX step_tray ON step (tray_id)',
            "ALTER TABLE log_entry ADD COLUMN params CLOB NOT NULL DEFAULT '[]'",
            "UPDATE log_entry SET params = json_object('act', act, 'text', detail), act = 'told'",
            'ALTER TABLE log_entry DROP COLUMN detail',
        ];
    }
}
