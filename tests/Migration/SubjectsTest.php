<?php

declare(strict_types=1);

namespace Geschenk\Tests\Migration;

use Geschenk\Tests\Support\Migrated;
use PHPUnit\Framework\TestCase;

/** Runs stay of their moves, and a reading back that was asked for before the update is a run behind it. */
final class SubjectsTest extends TestCase
{
    use Migrated;

    private const BEFORE = 'Geschenk\\Migrations\\Version20261201043000';

    public function testRunsAreTakenOverAndWhatWasAskedForIsAskedForStill(): void
    {
        $this->migrate(self::BEFORE);
        $shop = new \SQLite3($this->path('shop.sqlite'));
        $shop->enableExceptions(true);
        $shop->exec(<<<'SQL'
            PRAGMA foreign_keys = ON;
            INSERT INTO customer (id, name, contact, language) VALUES (3, 'Ada', '', 'en');
            INSERT INTO tray (id, number, customer_id, errand, opened_at, opened_by, changed_at)
                VALUES (1, 41, 3, 'move', '2026-01-01', 'jette', '2026-01-01');
            INSERT INTO move (id, tray_id, place, app, edition)
                VALUES (7, 1, 1, 'otterpost', 'Otterpost'), (8, 1, 2, 'otterpost-work', 'Otterpost Work');
            INSERT INTO run (id, counter, move_id, kind, state, trouble, trouble_params, attempts, asked_at, asked_by,
                stages, left_on_phone, phase, items_done, items_total, bytes_done, bytes_total, phase_started_at,
                bytes_before, items_before, moved_at)
            VALUES
                ('one', 1, 7, 'backup', 'done', NULL, '[]', 0, '2026-01-01', 'jette', 0, 0, '', 0, 0, 0, 0, 0, 0, 0, 0),
                ('two', 2, 8, 'backup', 'paused', 'paused', '{"by":"orla"}', 0, '2026-01-01', 'jette', 0, 0, '', 0, 0,
                    0, 0, 0, 0, 0, 0);
            UPDATE move SET run_id = iif(id = 7, 'one', 'two');
            INSERT INTO backup (id, counter, tray_id, customer_id, serial, app, edition, way_in, taken_at, account,
                conversations, messages, attachments, attachments_absent, attachment_bytes, lost, verify_asked_at,
                erase_asked_at)
            VALUES
                ('whole', 1, 1, 3, 's', 'otterpost', 'Otterpost', 'cable', '2026-01-01', '+1', 1, 2, 0, 0, 0, 0,
                    NULL, NULL),
                ('asked', 2, 1, 3, 's', 'otterpost', 'Otterpost', 'cable', '2026-01-01', '+1', 1, 2, 0, 0, 0, 0,
                    '2026-01-02', NULL),
                ('going', 3, 1, 3, 's', 'otterpost', 'Otterpost', 'cable', '2026-01-01', '+1', 1, 2, 0, 0, 0, 0,
                    '2026-01-02', '2026-01-03');
            INSERT INTO messenger_messages (body, headers, queue_name, created_at, available_at)
                VALUES ('O:"Geschenk\\App\\Work\\VerifyBackup"', '[]', 'runs', '2026-01-02', '2026-01-02'),
                    ('O:"Geschenk\\App\\Work\\WorkOnRun"', '[]', 'runs', '2026-01-02', '2026-01-02');
            SQL);
        $shop->close();
        $this->migrate('latest');
        $shop = new \SQLite3($this->path('shop.sqlite'));
        self::assertSame(
            [['one', 7, null, 'backup', 'done'], ['two', 8, null, 'backup', 'paused']],
            self::rows($shop, 'SELECT id, move_id, backup_id, kind, state FROM run WHERE counter < 3'),
        );
        self::assertSame(
            [['{"by":"orla","kind":"backup"}']],
            self::rows($shop, "SELECT trouble_params FROM run WHERE state = 'paused'"),
        );
        self::assertSame([['one'], ['two']], self::rows($shop, 'SELECT run_id FROM move ORDER BY id'));
        [[$id, $counter, $of, $kind, $state]] = self::rows(
            $shop, 'SELECT id, counter, backup_id, kind, state FROM run WHERE counter > 2',
        );
        self::assertSame([3, 'asked', 'verification', 'queued'], [$counter, $of, $kind, $state]);
        self::assertIsString($id);
        self::assertMatchesRegularExpression('/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-8[0-9a-f]{3}-[0-9a-f]{12}$/', $id);
        self::assertSame(
            [['whole', null], ['asked', $id], ['going', null]],
            self::rows($shop, 'SELECT id, run_id FROM backup ORDER BY counter'),
        );
        self::assertSame([[1]], self::rows($shop, 'SELECT count(*) FROM messenger_messages'));
        self::assertSame([], self::rows($shop, 'PRAGMA foreign_key_check'));
        $shop->enableExceptions(true);
        $shop->exec("UPDATE run SET state = 'waiting' WHERE id = 'two'");
        foreach (['move_id = 8, backup_id = NULL', "move_id = NULL, backup_id = 'asked'"] as $open) {
            try {
                $shop->exec("UPDATE run SET state = 'working', $open WHERE id = 'one'");
                self::fail('Two are open of one subject.');
            } catch (\Exception $refused) {
                self::assertStringContainsString('UNIQUE', $refused->getMessage());
            }
        }
    }
}
