<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Messenger\Otterpost\Android\Codes;
use Geschenk\Core\Messenger\Otterpost\AndroidGeneration4\Generation4Schema;
use Geschenk\Core\Sqlite\Database;

/** Makes of a phone's data what the messenger of years ago would have kept: storage generation 4. */
final class OldPouch
{
    public static function make(string $folder): void
    {
        $path = $folder.'/'.Generation4Schema::DATABASE;
        $database = Database::create($path.'.old');
        $database->execute(
            implode(';', Generation4Schema::TABLES).sprintf(
                '; PRAGMA application_id = %d; PRAGMA user_version = %d', Generation4Schema::APPLICATION_ID,
                Generation4Schema::GENERATION,
            ),
        );
        $database->run('ATTACH ? AS n', [$path]);
        $sort = 'CASE s.sort';
        foreach (Codes::SLIP_SORTS as $code => $kind) {
            $old = array_search($kind, Generation4Schema::SLIP_SORTS, true);
            $sort .= sprintf(' WHEN %d THEN %d', $code, false === $old ? 0 : $old);
        }
        $text = array_search(Kind::Text, Generation4Schema::SLIP_SORTS, true);
        $person = static fn (string $column): string => "(SELECT handle FROM n.folk f WHERE f.folk_id = $column)";
        $database->execute("BEGIN;
            INSERT INTO holt SELECT name, value FROM n.holt;
            INSERT INTO room SELECT r.handle, r.sort, COALESCE(r.title, (SELECT book_name FROM n.folk f
                WHERE f.handle = r.handle)), r.about, r.founded_ms / 1000, r.shelved, r.pin_place,
                CASE WHEN r.hush_until_ms > 0 THEN r.hush_until_ms / 1000 ELSE r.hush_until_ms END, r.unread, r.draft,
                    r.wallpaper FROM n.room r ORDER BY r.room_id;
            INSERT INTO room_folk SELECT r.handle, f.handle, m.rank, m.since_ms / 1000 FROM n.room_folk m
                JOIN n.room r USING (room_id) JOIN n.folk f USING (folk_id);
            INSERT INTO slip SELECT s.slip_id, r.handle, s.wire_id, {$person('s.folk_id')}, s.mine, $sort
                ELSE $text END, s.body, s.sent_ms, s.landed_ms / 1000, s.stage, s.flags & 3, s.answers_wire_id,
                CASE WHEN s.notice_sort <= 7 THEN s.notice_sort END, {$person('s.notice_folk_id')},
                    {$person('s.notice_target_id')}, s.notice_text,
                p.store_name, p.shown_name, p.media_type, p.octets, p.span_ms / 1000, p.width, p.height, p.peek,
                    t.north, t.east, t.name, (SELECT vcard FROM n.card c WHERE c.slip_id = s.slip_id LIMIT 1),
                    g.outcome, g.span_ms / 1000,
                CASE WHEN r.sort = 1
                    THEN (SELECT handed_ms / 1000 FROM n.mark k WHERE k.slip_id = s.slip_id LIMIT 1) END,
                CASE WHEN r.sort = 1
                    THEN (SELECT read_ms / 1000 FROM n.mark k WHERE k.slip_id = s.slip_id LIMIT 1) END
                FROM n.slip s JOIN n.room r USING (room_id)
                    LEFT JOIN (SELECT * FROM n.parcel GROUP BY slip_id) p ON p.slip_id = s.slip_id
                    LEFT JOIN n.spot t ON t.slip_id = s.slip_id
                    LEFT JOIN n.ring g ON g.slip_id = s.slip_id
                ORDER BY s.slip_id;
            ".Generation4Schema::INDEXES.' COMMIT; DETACH n; PRAGMA journal_mode = WAL');
        $database->close();
        foreach (['-wal', '-shm'] as $suffix) {
            @unlink($path.$suffix);
        }
        rename($path.'.old', $path);
    }
}
