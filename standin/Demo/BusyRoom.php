<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Sqlite\Database;

/** A room that has been written into every ten minutes for years, by people and by a gauge: 200,000 slips. */
final class BusyRoom
{
    public const TITLE = 'Harbour watch';
    public const SLIPS = 200_000;
    private const APART_MS = 580_000;
    private const MEMBERS = 9;

    /** @param string $folder of an Android messenger, generation 7 */
    public static function add(string $folder): void
    {
        $database = new Database(new \SQLite3($folder.'/pouch.db'));
        $first = ChatMaker::NOW - self::SLIPS * self::APART_MS;
        $database->execute('BEGIN');
        $room = $database->insert(
            'room',
            [
                'sort' => 2, 'handle' => 'raft-5ea0c0de~river', 'title' => self::TITLE,
                'founded_ms' => $first - 3_600_000, 'unread' => 4,
            ],
        );
        $database->execute('CREATE TEMP TABLE crew (n INTEGER PRIMARY KEY, folk_id INTEGER NOT NULL)');
        $database->run(
            'INSERT INTO temp.crew (folk_id) SELECT folk_id FROM folk ORDER BY folk_id LIMIT ?', [self::MEMBERS],
        );
        $database->run(
            'INSERT INTO room_folk (room_id, folk_id, rank, since_ms) SELECT ?, folk_id, 0, ? FROM temp.crew',
            [$room, $first - 3_600_000],
        );
        // Large factors spread the numbers, so that it looks like chance and is the same every time.
        $database->execute(sprintf(<<<'SQL'
            INSERT INTO slip (room_id, wire_id, folk_id, mine, sort, body, sent_ms, landed_ms, stage, flags,
                answers_wire_id)
            WITH RECURSIVE counted (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM counted WHERE i < %2$d),
                mixed AS (SELECT i, i * 2654435761 >> 13 & 1023 AS d, i * 2246822519 >> 15 & 1023 AS e FROM counted)
            SELECT %1$d, printf('WATCH-%%06d', i), CASE WHEN d %% 17 = 0 THEN NULL ELSE (SELECT folk_id FROM temp.crew
                WHERE n = 1 + e %% (SELECT COUNT(*) FROM temp.crew)) END, d %% 17 = 0, 10,
                CASE d %% 14
                    WHEN 0 THEN printf('Gauge at the lock %%d.%%02d m and rising', 1 + e %% 4, i %% 100)
                    WHEN 1 THEN printf('Gauge at the lock %%d.%%02d m and falling', 1 + e %% 4, i %% 100)
                    WHEN 2 THEN printf('Wind %%s %%d, gusts %%d', substr('N NENW', 1 + 2 * (e %% 3), 2),
                        2 + e %% 5, 6 + e %% 4)
                    WHEN 3 THEN 'Visibility under a mile, the ferry runs late'
                    WHEN 4 THEN printf('Berth %%d is free again', 1 + e %% 14)
                    WHEN 5 THEN printf('Vessel at the outer buoy, pilot at %%02d:%%02d', i %% 24, e %% 60)
                    WHEN 6 THEN 'The crane stands still this afternoon'
                    WHEN 7 THEN 'The sluice opens on the hour'
                    WHEN 8 THEN 'Who has the key to the net loft?'
                    WHEN 9 THEN 'I have it'
                    WHEN 10 THEN 'Takk, seen from the pier'
                    WHEN 11 THEN 'Nebel über der Reede'
                    WHEN 12 THEN 'Ομίχλη στο λιμάνι'
                    ELSE 'Nothing to report 🌊'
                END,
                %3$d + i * %4$d + d * 100,
                CASE WHEN d %% 17 = 0 THEN NULL ELSE %3$d + i * %4$d + d * 100 + 1200 END,
                CASE WHEN d %% 17 = 0 THEN 60 ELSE 6 END, d %% 500 = 77,
                CASE WHEN d %% 14 IN (9, 10) AND i > 40 THEN printf('WATCH-%%06d', i - 1 - e %% 3) END
            FROM mixed
            SQL, $room, self::SLIPS, $first, self::APART_MS));
        $database->run(
            "INSERT INTO nod (slip_id, folk_id, sign, given_ms) SELECT slip_id, NULL, '👍', sent_ms + 60000 "
                .'FROM slip WHERE room_id = ? AND slip_id % 83 = 0',
            [$room],
        );
        $database->run(
            'INSERT INTO mark (slip_id, folk_id, handed_ms, read_ms) '
                .'SELECT slip_id, crew.folk_id, sent_ms + 1500, sent_ms + 90000 FROM slip '
                .'JOIN temp.crew ON n <= 3 WHERE room_id = ? AND mine',
            [$room],
        );
        $database->run(
            'UPDATE room SET last_slip_id = (SELECT MAX(slip_id) FROM slip WHERE slip.room_id = room.room_id) '
                .'WHERE room_id = ?',
            [$room],
        );
        $database->execute('COMMIT; DROP TABLE temp.crew');
        $database->close();
    }
}
