<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Insert;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * An Android data folder with any number of slips for measurements, the same for the same seed: rooms of very
 * different size, rows of attachments (the files themselves are not there), replies, reactions, receipts.
 */
final class BigSource
{
    private const START = 1_420_070_400_000;
    private const PEOPLE = 400;

    /** @return int how many slips there are */
    public static function make(string $folder, int $slips, int $seed): int
    {
        Folder::make($folder.'/'.AndroidSchema::PARCELS);
        $chance = new Randomizer(new Mt19937($seed));
        $texts = new Texts($chance);
        $sentences = array_map(
            static fn (): string => $texts->talk($texts->pick(['bees', 'family', 'ferry', 'choir', 'el', 'ar', 'ja'])),
            range(1, 500),
        );
        $database = Database::create($folder.'/'.AndroidSchema::DATABASE);
        $database->execute(
            implode(';', AndroidSchema::TABLES).sprintf(
                '; PRAGMA application_id = %d; PRAGMA user_version = %d; BEGIN', AndroidSchema::APPLICATION_ID,
                AndroidSchema::GENERATION,
            ),
        );
        foreach ([
            'edition' => 'Otterpost', 'own_handle' => '+447700900001~river', 'own_name' => 'Bench',
        ] as $name => $value) {
            $database->insert('holt', ['name' => $name, 'value' => $value]);
        }
        for ($i = 1; $i <= self::PEOPLE; ++$i) {
            $database->insert(
                'folk',
                ['folk_id' => $i, 'handle' => sprintf('+4477009%05d~river', 500 + $i), 'book_name' => 'Person '.$i],
            );
        }
        $into = static fn (string $table): Insert => Insert::into($database, $table, AndroidSchema::TABLES[$table]);
        [$slipRows, $parcels, $nods, $marks] = [$into('slip'), $into('parcel'), $into('nod'), $into('mark')];
        $made = 0;
        $rooms = max(4, (int) (sqrt($slips) / 4));
        $weights = array_map(static fn (int $n): float => 1 / ($n + 1), range(0, $rooms - 1));
        foreach ($weights as $n => $weight) {
            $count = $n === $rooms - 1
                ? $slips - $made
                : min($slips - $made, (int) round($slips * $weight / array_sum($weights)));
            $people = 0 !== $n % 3 ? [1 + $n % self::PEOPLE] : range(1 + $n % 300, 1 + $n % 300 + 11);
            $room = $database->insert(
                'room',
                [
                    'sort' => 0 !== $n % 3 ? 1 : 2,
                    'handle' => 0 !== $n % 3 ? sprintf('+44770091%04d~river', $n) : sprintf('raft-%08x~river', $n),
                    'title' => 0 !== $n % 3 ? null : 'Room '.$n, 'founded_ms' => self::START,
                ],
            );
            foreach ($people as $person) {
                $database->insert(
                    'room_folk', ['room_id' => $room, 'folk_id' => $person, 'rank' => 0, 'since_ms' => self::START],
                );
            }
            $time = self::START + $n * 1_000;
            for ($i = 0; $i < $count; ++$i) {
                $slip = ++$made;
                $dice = $chance->getInt(0, 999);
                $mine = $dice % 3 < 1;
                $sort = match (true) {
                    $dice < 70 => 20, $dice < 95 => 31, $dice < 120 => 40, default => 10,
                };
                $time += $chance->getInt(1_000, 900_000);
                $slipRows->row([
                    $slip, $room, sprintf(
                        'BENCH-%09d', $slip,
                    ), $mine ? null : $people[$dice % count($people)], $mine ? 1 : 0, $sort, 10 === $sort
                        ? $sentences[$dice % 500] : null, $time, $mine ? null : $time + 900, $mine ? 60 : 6,
                    993 < $dice ? 1 : 0, $i > 20 && $dice > 900 && $dice < 980 ? sprintf(
                        'BENCH-%09d', $slip - 1 - $dice % 20,
                    ) : null, null, null, null, null, null, null, null, null,
                ]);
                if (10 !== $sort) {
                    $parcels->row(
                        [
                            null, $slip, sprintf('photo/%07d.jpg', $slip), null,
                            31 === $sort ? 'audio/ogg' : 'image/jpeg', 48_000 + $dice, 31 === $sort ? 9_000 : null, 640,
                            480, null,
                        ],
                    );
                }
                if ($dice % 17 < 1) {
                    $nods->row([$slip, $people[$dice % count($people)], '👍', $time + 5_000]);
                }
                foreach ($mine ? array_slice($people, 0, 3) : [] as $person) {
                    $marks->row([$slip, $person, $time + 1_500, $time + 60_000, null]);
                }
            }
            $database->run('UPDATE room SET last_slip_id = ? WHERE room_id = ?', [$count > 0 ? $made : null, $room]);
        }
        $database->execute(AndroidSchema::INDEXES.'COMMIT; PRAGMA journal_mode = WAL');
        $database->close();

        return $made;
    }
}
