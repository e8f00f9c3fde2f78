<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\DBAL\Connection;
use Geschenk\App\DataFolder;

/** The shelf of a shop that has had hundreds of customers: what is open is there at once, the rest page by page. */
final class ShelfTest extends ApiTestCase
{
    public function testHundredsThatWereHandedOverAreToldPageByPageAndNoneIsLeftOut(): void
    {
        $this->signIn();
        $open = $this->openTray();
        $this->fill(120);
        // From the oldest of them a phone is being put back: nobody has to look for that.
        self::getContainer()->get(Connection::class)->executeStatement(<<<'SQL'
            INSERT INTO move (id, tray_id, place, app, edition) VALUES (9001, 1001, 1, 'otterpost', 'Otterpost');
            INSERT INTO bringing (move_id, number, aim, choices, merges, names_wanted, keeps, eyes)
                VALUES (9001, 1, 'whole', '[]', 0, 0, '[]', '[]');
            INSERT INTO run (id, counter, move_id, kind, state, asked_at, asked_by, trouble_params, attempts, phase,
                items_done, items_total, bytes_done, bytes_total, phase_started_at, bytes_before, items_before,
                moved_at)
                VALUES ('back', 900, 9001, 'put_back', 'paused', '2026-11-01 10:00:00', 'jette', '[]', 0, '', 0, 0, 0,
                    0, 0, 0, 0, 0);
            UPDATE move SET run_id = 'back' WHERE id = 9001
            SQL);
        $first = $this->call('GET', '/api/trays');
        $numbers = array_column((array) $first['trays'], 'number');
        self::assertCount(52, $numbers);
        self::assertContains($open, $numbers);
        self::assertContains(1001, $numbers);
        self::assertSame(['closed' => true, 'for' => 'person'], [
            'closed' => $this->value($first, 'trays', 50, 'closed'),
            'for' => $this->value($first, 'trays', 50, 'waits', 'for'),
        ]);
        $seen = $numbers;
        $pages = 0;
        for ($behind = $first['behind']; is_int($behind); $behind = $page['behind']) {
            ++$pages;
            $page = $this->call('GET', "/api/trays?behind=$behind");
            self::assertSame('Old Customer', $this->value($page, 'trays', 0, 'customer'));
            array_push($seen, ...array_column((array) $page['trays'], 'number'));
        }
        self::assertSame(2, $pages);
        self::assertCount(121, array_unique($seen, \SORT_REGULAR));
        self::assertSame(
            ['trays' => [], 'behind' => null], $this->call('GET', '/api/trays?behind=1'), 'Behind the last is none.',
        );
    }

    public function testWhatTheShelfKeepsNamesNobodyAndIsDoneWithout(): void
    {
        $this->signIn();
        $this->openTray();
        $shelf = $this->call('GET', '/api/trays');
        self::assertSame('Test Person', $this->value($shelf, 'trays', 0, 'customer'));
        $file = self::getContainer()->get(DataFolder::class)->pictures().'/en.json';
        $kept = (string) file_get_contents($file);
        self::assertStringContainsString('"stamp"', $kept);
        foreach (['Test Person', 'café', '7700900700'] as $private) {
            self::assertStringNotContainsString($private, $kept);
        }
        foreach (['', '{', '[]', '[1,2]', '{"1":{"stamp":1}}', "\xFF", 'null'] as $spoilt) {
            file_put_contents($file, $spoilt);
            self::assertSame($shelf, $this->call('GET', '/api/trays'), $spoilt);
        }
        // Nor does it matter that nothing can be kept.
        unlink($file);
        mkdir($file);
        $this->browser->request('GET', '/api/trays');
        self::assertSame($shelf, json_decode((string) $this->browser->getResponse()->getContent(), true));
        rmdir($file);
        self::assertSame([], glob(dirname($file).'/*.json.*'), 'Nothing half written lies about.');
    }

    private function fill(int $trays): void
    {
        $connection = self::getContainer()->get(Connection::class);
        $connection->executeStatement(
            "INSERT INTO customer (id, name, contact, language) VALUES (900, 'Old Customer', 'the quay', 'en')",
        );
        for ($n = 1; $n <= $trays; ++$n) {
            $connection->executeStatement(<<<'SQL'
                INSERT INTO tray (id, number, customer_id, name_on_sheet, opened_at, opened_by, changed_at, closed_at)
                VALUES (:id, :id, 900, 'Old Customer', '2026-11-01 10:00:00', 'jette', '2026-11-01 12:00:00',
                    '2026-11-01 12:00:00')
                SQL, ['id' => 1000 + $n]);
            foreach (['A' => 'gives', 'B' => 'receives'] as $tag => $role) {
                $connection->insert('tray_phone', [
                    'tray_id' => 1000 + $n, 'serial' => "OLD$n$tag", 'tag' => (1000 + $n)."-$tag", 'role' => $role,
                    'held' => 0,
                ]);
            }
        }
    }
}
