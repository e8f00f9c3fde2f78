<?php

declare(strict_types=1);

namespace Geschenk\Tests\Migration;

use Geschenk\App\Entity\OfferSeen;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Tests\Support\Migrated;
use PHPUnit\Framework\TestCase;

/** What was known of the messenger's own backups, and which of them a run takes, is known behind the update too. */
final class WaysInTest extends TestCase
{
    use Migrated;

    private const BEFORE = 'Geschenk\\Migrations\\Version20261130230000';

    public function testWhatWasSeenAndWhatARunTakesIsTakenOver(): void
    {
        $this->migrate(self::BEFORE);
        $shop = new \SQLite3($this->path('shop.sqlite'));
        $shop->enableExceptions(true);
        $shop->exec(<<<'SQL'
            INSERT INTO holding (serial, app, trouble_params, over_cable, local_backups, chat_bytes, tries)
            VALUES
                ('nobody looked', 'otterpost', '[]', NULL, '[]', NULL, 0),
                ('lies open', 'otterpost', '[]', 1, '[]', 4000, 0),
                ('locked', 'otterpost', '[]', 0, '[{"path":"spares/one/pouch.sealed","changed":"c1","made_at":1700,
                    "bytes":20,"lock":"digits","attachments":3,"attachment_bytes":300,"videos":1,"counts":null,
                    "trouble":"sealed_cut","trouble_params":{"path":"@local_backup","bytes":3}}]', 40, 0),
                ('both', 'otterpost', '[]', 1, '[{"path":"spares/two/pouch.gz","changed":"c2","made_at":1600,
                    "bytes":10,"lock":"open","attachments":0,"attachment_bytes":0,"videos":0,
                    "counts":{"conversations":1,"messages":2,"newest_at":null},"trouble":null,"trouble_params":[]},
                    {"path":"pouch.sealed","changed":"c3","made_at":1500,"bytes":9,"lock":null,"attachments":0,
                    "attachment_bytes":0,"videos":0,"counts":null,"trouble":null,"trouble_params":[]}]', 4000, 0);
            INSERT INTO tray (id, number, customer_id, errand, opened_at, opened_by, changed_at)
                VALUES (1, 41, NULL, 'move', '2026-01-01', 'jette', '2026-01-01');
            INSERT INTO move (id, tray_id, place, app, edition) VALUES (7, 1, 1, 'otterpost', 'Otterpost');
            INSERT INTO run (id, counter, move_id, kind, state, trouble_params, attempts, asked_at, asked_by, stages,
                left_on_phone, phase, items_done, items_total, bytes_done, bytes_total, phase_started_at, bytes_before,
                items_before, moved_at, local_backup)
            VALUES
                ('own', 1, 7, 'backup', 'waiting', '[]', 0, '2026-01-01', 'jette', 0, 0, '', 0, 0, 0, 0, 0, 0, 0, 0,
                    '{"path":"spares/one/pouch.sealed","made_at":1700,"lock":"digits","videos":1}'),
                ('open', 2, 7, 'backup', 'done', '[]', 0, '2026-01-01', 'jette', 0, 0, '', 0, 0, 0, 0, 0, 0, 0, 0,
                    NULL);
            SQL);
        $shop->close();
        $this->migrate('latest');
        $shop = new \SQLite3($this->path('shop.sqlite'), \SQLITE3_OPEN_READONLY);
        $seen = [];
        foreach (self::rows($shop, 'SELECT serial, offers FROM holding') as [$serial, $offers]) {
            /** @var list<array{offer: array{way: string, path: string, changed: string, made_at: int|null,
             *     bytes: int|null, lock: value-of<BackupLock>|null, attachments: int|null, attachment_bytes: int|null,
             *     videos: int|null}, counts: array{conversations: int, messages: int, newest_at: int|null}|null,
             *     trouble: string|null, trouble_params: array<string, string|int>}>|null $records
             */
            $records = is_string($offers) ? json_decode($offers, true, 16, \JSON_THROW_ON_ERROR) : null;
            $offers = null === $records ? null : array_map(OfferSeen::of(...), $records);
            $seen[is_string($serial) ? $serial : ''] = $offers;
        }
        $cable = new OfferSeen(new Offer('cable', bytes: 4000));
        self::assertEquals([
            'nobody looked' => null, 'lies open' => [$cable],
            'locked' => [new OfferSeen(
                new Offer(
                    'local_backup', 'spares/one/pouch.sealed', 'c1', 1700, 20, BackupLock::Digits, 3, 300, 1,
                ), null, 'sealed_cut', ['path' => '@local_backup', 'bytes' => 3],
            )],
            'both' => [
                $cable,
                new OfferSeen(
                    new Offer('local_backup', 'spares/two/pouch.gz', 'c2', 1600, 10, BackupLock::Open, 0, 0, 0),
                    ['conversations' => 1, 'messages' => 2, 'newest_at' => null],
                ),
                new OfferSeen(new Offer('local_backup', 'pouch.sealed', 'c3', 1500, 9, null, 0, 0, 0)),
            ],
        ], $seen);
        $runs = self::rows($shop, 'SELECT id, offer FROM run ORDER BY counter');
        self::assertSame(['open', null], $runs[1]);
        self::assertSame(
            ['local_backup', 'spares/one/pouch.sealed', 1700, 'digits'],
            self::rows($shop, <<<'SQL'
                SELECT json_extract(offer, '$.way'), json_extract(offer, '$.path'), json_extract(offer, '$.made_at'),
                    json_extract(offer, '$.lock')
                FROM run WHERE id = 'own'
                SQL)[0],
        );
        $shop->close();
    }
}
