<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Sqlite\Blob;
use Geschenk\Core\Sqlite\Database;

/**
 * What real data contains and no writer of ours would make, put straight into an Android database: unknown kinds and
 * columns, wire ids that are absent or doubled, odd times and texts, attachments without their file. The newest slips
 * stay in the write-ahead log, as on a phone in use.
 */
final class AwkwardRows
{
    public static function add(string $folder): void
    {
        $path = $folder.'/pouch.db';
        $database = new Database(new \SQLite3($path));
        $database->execute('PRAGMA wal_autocheckpoint = 0; BEGIN');
        $room = $database->one("SELECT room_id FROM room WHERE title = 'Committee'")?->int('room_id') ?? 1;
        $person = $database->one(
            'SELECT folk_id FROM room_folk WHERE room_id = ? LIMIT 1', [$room],
        )?->int('folk_id') ?? 1;
        $database->execute('ALTER TABLE slip ADD COLUMN shimmer TEXT');
        $common = [
            'room_id' => $room, 'wire_id' => null, 'folk_id' => $person, 'mine' => 0, 'sort' => 10, 'body' => null,
            'sent_ms' => ChatMaker::NOW - 600_000, 'landed_ms' => null, 'stage' => 6,
        ];
        $slip = static function (array $values) use ($database, $common): int {
            /** @var array<string, scalar|null> $row */
            $row = [...$common, ...$values];

            return $database->insert('slip', $row);
        };
        $long = str_repeat('All that was said about the new extractor, from the beginning. ', 1_040);
        $odd = [
            [
                'wire_id' => 'TWICE-000001', 'body' => 'Sent twice by a bad connection.',
            ], ['wire_id' => 'TWICE-000001', 'body' => 'Sent twice by a bad connection.'],
            ['body' => 'No wire id, said once.'], [
                'body' => 'No wire id, said twice.',
            ], ['body' => 'No wire id, said twice.'],
            ['sort' => 71, 'wire_id' => 'ODD-KIND-01', 'body' => 'A kind from the future'], [
                'stage' => 44, 'wire_id' => 'ODD-STAGE-1', 'body' => 'A state from the future',
            ],
            ['flags' => 64, 'wire_id' => 'ODD-FLAG-01', 'body' => 'A flag from the future'], [
                'wire_id' => 'ODD-COLUMN-1', 'body' => 'With a detail nobody knows', 'shimmer' => 'aurora',
            ],
            [
                'sent_ms' => 0, 'wire_id' => 'TIME-ZERO', 'body' => 'Sent at the beginning of time',
            ], ['sent_ms' => -86_400_123, 'wire_id' => 'TIME-EARLY', 'body' => 'Sent before 1970'],
            [
                'sent_ms' => 4_133_980_800_777, 'wire_id' => 'TIME-LATE', 'body' => 'Sent in 2101',
            ], ['wire_id' => 'TEXT-LONG', 'body' => $long],
            ['wire_id' => 'TEXT-NUL', 'body' => "Before\0after the NUL"], [
                'wire_id' => 'TEXT-BROKEN', 'body' => "Not quite \xC3\x28 UTF-8",
            ], ['wire_id' => 'TEXT-RTL', 'body' => 'مرحبا بكم في جمعية النحالين — welcome'],
            ['wire_id' => 'TEXT-EMOJI', 'body' => '👩🏽‍🌾👨‍👩‍👧‍👦🏴‍☠️ '."e\u{301}"], [
                'wire_id' => 'REPLY-GONE', 'body' => 'Answers what is gone', 'answers_wire_id' => 'NEVER-WAS-01',
            ],
            ['sort' => 90, 'notice_sort' => 88, 'notice_folk_id' => $person, 'wire_id' => null, 'body' => null],
        ];
        foreach ($odd as $values) {
            $slip($values);
        }
        $file = static fn (int $slipId, string $name, string $shown): int => $database->insert(
            'parcel',
            [
                'slip_id' => $slipId, 'store_name' => $name, 'shown_name' => $shown, 'media_type' => 'image/jpeg',
                'octets' => 48_213, 'width' => 640, 'height' => 480, 'peek' => new Blob("\xFF\xD8\xFF\xD9"),
            ],
        );
        $file($slip(['sort' => 20, 'wire_id' => 'FILE-GONE-1']), 'photo/999001.jpg', 'gone.jpg');
        $file($slip(['sort' => 20, 'wire_id' => 'FILE-GONE-2']), 'photo/999002.jpg', 'gone too.jpg');
        file_put_contents($folder.'/parcels/photo/999003.jpg', '');
        $file($slip(['sort' => 20, 'wire_id' => 'FILE-EMPTY-1']), 'photo/999003.jpg', 'empty.jpg');
        file_put_contents($folder.'/parcels/document/999004.pdf', "%PDF-1.4\n% Hive cards\n");
        $file(
            $slip(['sort' => 40, 'wire_id' => 'FILE-NAME-1']), 'document/999004.pdf',
            'Cards: north/south?*.'.str_repeat('x', 220).'.pdf',
        );
        $database->execute(
            'INSERT INTO room (sort, handle, title, founded_ms) '
                ."VALUES (2, 'raft-0e0e0e0e~river', 'A room without slips', 1600000000000)",
        );
        $database->execute(
            'UPDATE room SET last_slip_id = (SELECT MAX(slip_id) FROM slip WHERE slip.room_id = room.room_id); COMMIT',
        );
        self::leaveInLog($database, $path);
    }

    /** Puts the last messages of the day into the write-ahead log alone. */
    public static function newest(string $folder): void
    {
        $path = $folder.'/pouch.db';
        $database = new Database(new \SQLite3($path));
        $database->execute('PRAGMA wal_autocheckpoint = 0; BEGIN');
        foreach ($database->few('SELECT room_id FROM room ORDER BY room_id LIMIT 6') as $i => $row) {
            $database->insert(
                'slip',
                [
                    'room_id' => $row->int('room_id'), 'wire_id' => sprintf('NEWEST-%04d', $i), 'mine' => 1,
                    'sort' => 10, 'body' => 'See you at the shop at five, I hand in the phone now.',
                    'sent_ms' => ChatMaker::NOW + 60_000 + $i * 1_000, 'stage' => 20,
                ],
            );
        }
        $database->execute(
            'UPDATE room SET last_slip_id = (SELECT MAX(slip_id) FROM slip WHERE slip.room_id = room.room_id); COMMIT',
        );
        self::leaveInLog($database, $path);
    }

    /** Closing would write the log back into the database, so both are set aside while it happens. */
    private static function leaveInLog(Database $database, string $path): void
    {
        foreach (['', '-wal'] as $suffix) {
            copy($path.$suffix, $path.$suffix.'.kept');
        }
        $database->close();
        foreach (['', '-wal'] as $suffix) {
            rename($path.$suffix.'.kept', $path.$suffix);
        }
    }
}
