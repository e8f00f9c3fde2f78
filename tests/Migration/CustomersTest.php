<?php

declare(strict_types=1);

namespace Geschenk\Tests\Migration;

use Geschenk\Tests\Support\Migrated;
use PHPUnit\Framework\TestCase;

/** Trays that told their customers themselves: each gets a record, one that brings a kept backup that backup's. */
final class CustomersTest extends TestCase
{
    use Migrated;

    private const BEFORE = 'Geschenk\\Migrations\\Version20261130210000';

    public function testNobodyIsTakenForANamesakeAndWhatWasToldLastCounts(): void
    {
        $this->migrate(self::BEFORE);
        $shop = new \SQLite3($this->path('shop.sqlite'));
        $shop->enableExceptions(true);
        $shop->exec(<<<'SQL'
            INSERT INTO tray (id, number, customer, contact, language, errand, opened_at, opened_by, changed_at,
                closed_at)
            VALUES
                (1, 41, 'Ada', 'old café', 'de', 'only_back_up', '2026-01-01', 'jette', '2026-01-01', '2026-01-02'),
                (2, 42, 'Ada', 'the quay', 'en', 'move', '2026-01-01', 'jette', '2026-01-01', NULL),
                (3, 43, 'Ada Quay', 'new café', 'en', 'bring_kept', '2026-02-01', 'jette', '2026-02-01', NULL),
                (4, 44, 'Bo', 'pier', 'en', 'bring_kept', '2026-02-01', 'jette', '2026-02-01', '2026-02-02');
            INSERT INTO backup (id, counter, tray_id, serial, app, edition, way_in, taken_at, account, conversations,
                messages, attachments, attachments_absent, attachment_bytes, lost, is_safety_copy)
            VALUES
                ('kept', 1, 1, 'S', 'otterpost', 'Otterpost', 'cable', '2026-01-01', '+44', 1, 1, 0, 0, 0, 0, 0),
                ('copy', 2, 3, 'T', 'otterpost', 'Otterpost', 'cable', '2026-02-01', '+44', 1, 1, 0, 0, 0, 0, 1);
            INSERT INTO move (id, tray_id, place, app, edition) VALUES (7, 3, 1, 'otterpost', 'Otterpost');
            INSERT INTO bringing (move_id, number, aim, backup_id, choices, merges, names_wanted, keeps, eyes)
                VALUES (7, 1, 'whole', 'kept', '[]', 0, 0, '[]', '[]');
            SQL);
        $shop->close();
        $this->migrate('latest');
        $shop = new \SQLite3($this->path('shop.sqlite'), \SQLITE3_OPEN_READONLY);
        self::assertSame([
            [41, 1, 'Ada Quay', 'new café', 'en', 'Ada'], [42, 2, 'Ada', 'the quay', 'en', null],
            [43, 1, 'Ada Quay', 'new café', 'en', null], [44, 4, 'Bo', 'pier', 'en', 'Bo'],
        ], self::rows($shop, <<<'SQL'
            SELECT t.number, c.id, c.name, c.contact, c.language, t.name_on_sheet
            FROM tray t LEFT JOIN customer c ON c.id = t.customer_id
            ORDER BY t.number
            SQL));
        $backups = self::rows($shop, 'SELECT id, customer_id FROM backup ORDER BY id');
        self::assertSame([['copy', 1], ['kept', 1]], $backups);
        self::assertSame([], self::rows($shop, 'PRAGMA foreign_key_check'));
        $shop->close();
    }
}
