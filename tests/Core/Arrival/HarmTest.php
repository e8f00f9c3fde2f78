<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Arrival;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Merge\Held;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Android;
use Geschenk\Core\Messenger\Otterpost\Ios;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;

/**
 * Everything on a receiving phone that means something is harmed, one thing at a time: each column of each table
 * changed and emptied, each row taken away and doubled, files, order. The check has to find it, in the right
 * conversation, and in no other. What it should say is worked out here message by message, without the check's own way
 * of comparing.
 */
#[Group('search')]
final class HarmTest extends TestCase
{
    use Scratch;

    /**
     * Each harm is done on as many grounds of these as have something to harm, two at most; with GESCHENK_GROUNDS=12 on
     * all.
     */
    private const SEEDS = [11, 23, 35, 47, 59, 71, 83, 95, 107, 119, 131, 143];
    private const GROUNDS = 2;
    /** On these two phones were merged. */
    private const MERGED = [23, 47, 71, 95, 119, 143];

    /**
     * What means nothing for the chats: keys of rows, the format's own housekeeping, and sizes beside files that are
     * there. Places are harmed as an order, not as numbers. What is gone may be the same as its default, which the
     * pages name; which still a motion part belongs to is told by its place.
     */
    private const SAME_WHEN_GONE = '/^(spot|ballot|ring|link|offer|withdrawn)\.slip_id$'
        .'|^ZROOMFOLK\.ZRANK$|^ZHOLT\.ZEDITION$|^holt\./';
    private const SAME_WHEN_ANOTHER = '/^ZPARCEL\.ZPAIRED$|^holt\.name$/';
    private const MEANS_NOTHING = [
        'ios' => '/^(Z_PRIMARYKEY|Z_METADATA)\.|\.(Z_PK|Z_ENT|Z_OPT|ZPLACE)$'
            .'|^ZROOM\.(ZSLIPCOUNT|ZLASTSLIP|ZSORTRANK)$|^ZPARCEL\.ZOCTETS$/',
        'android' => '/^(folk|room|slip|parcel|label|canned)\.\1_id$|\.place$|^room\.last_slip_id$|^parcel\.octets$/',
    ];

    /**
     * @var array<string, array{
     *     string, string, string,
     * }> output folder, expected store, read-back store, by platform and seed
     */
    private static array $grounds = [];
    private static ?string $home = null;

    public static function tearDownAfterClass(): void
    {
        self::$grounds = [];
        if (null !== self::$home) {
            Folder::remove(self::$home);
        }
        self::$home = null;
    }

    /** @return iterable<string, array{string, string, string}> platform, table or "files", sort of harm */
    public static function harms(): iterable
    {
        $all = ['android' => Android\AndroidSchema::tables(true), 'ios' => Ios\IosSchema::TABLES];
        foreach ($all as $platform => $tables) {
            foreach ($tables as $table => $statement) {
                foreach (Selection::columns($statement) as $column) {
                    if (1 !== preg_match(self::MEANS_NOTHING[$platform], "$table.$column")) {
                        if (1 !== preg_match(self::SAME_WHEN_ANOTHER, "$table.$column")) {
                            yield "$platform: $table.$column is another" => [$platform, "$table.$column", 'another'];
                        }
                        if (1 !== preg_match(self::SAME_WHEN_GONE, "$table.$column")) {
                            yield "$platform: $table.$column is gone" => [$platform, "$table.$column", 'gone'];
                        }
                    }
                }
                if (!str_starts_with($table, 'Z_')) {
                    yield "$platform: a row of $table is gone" => [$platform, $table, 'row gone'];
                }
            }
            foreach ([
                'slip' => 'ZSLIP', 'nod' => null, 'parcel' => 'ZPARCEL', 'folk' => 'ZFOLK', 'room' => 'ZROOM',
                'label' => 'ZLABEL', 'canned' => 'ZCANNED',
            ] as $android => $ios) {
                $table = 'ios' === $platform ? $ios : $android;
                if (null !== $table) {
                    yield "$platform: a row more of $table" => [$platform, $table, 'row more'];
                }
            }
            foreach (['neighbours', 'far apart'] as $order) {
                yield "$platform: slips in another order, $order" => [$platform, 'slips', $order];
            }
            foreach (['gone', 'empty', 'changed', 'longer', 'exchanged'] as $harm) {
                yield "$platform: a file is $harm" => [$platform, 'files', $harm];
            }
            yield "$platform: the size of a missing file" => [$platform, 'missing', 'size'];
        }
    }

    #[DataProvider('harms')]
    public function testItIsFoundInTheRightConversationAndInNoOther(string $platform, string $what, string $harm): void
    {
        $found = 0;
        foreach (self::SEEDS as $seed) {
            if ($found >= (int) (getenv('GESCHENK_GROUNDS') ?: self::GROUNDS)) {
                break;
            }
            [$folder, $expected, $back] = self::ground($platform, $seed);
            $work = $this->path('work');
            Folder::remove($work);
            exec(sprintf('cp -a %s %s', escapeshellarg($folder), escapeshellarg($work)));
            if (!self::harm($work, $platform, $what, $harm)) {
                continue;
            }
            ++$found;
            @unlink($this->path('harmed.sqlite'));
            try {
                (new ReadingHere())->read(
                    $work, new FolderFiles($work), $this->path('harmed.sqlite'), new NoProgress(),
                );
            } catch (UnusableInput) {
                continue;
            }
            $harmed = new ChatStore($this->path('harmed.sqlite'));
            $result = (new Comparison(new ChatStore($expected), $harmed))->run(
                $this->path('result.sqlite'), new NoProgress(),
            );
            self::assertFalse($result->totals()->complete(), "seed $seed: nothing was noticed");
            self::assertSame(self::differing(new ChatStore($back), $harmed), self::named($result), "seed $seed");
        }
        self::assertGreaterThan(0, $found, 'There was nothing to harm on any ground.');
    }

    public function testThereAreEnoughKinds(): void
    {
        self::assertGreaterThan(170, iterator_count((static fn () => yield from self::harms())()));
    }

    /** @return bool whether there was something to harm */
    private static function harm(string $folder, string $platform, string $what, string $harm): bool
    {
        if ('files' === $what) {
            return self::harmFile($folder, $platform, $harm);
        }
        ini_set('sqlite3.defensive', '0');
        $database = new \SQLite3($folder.'/'.('ios' === $platform ? 'Pouch.sqlite' : 'pouch.db'));
        ini_set('sqlite3.defensive', '1');
        $database->enableExceptions(true);
        // As on a phone whose tables promise nothing.
        $database->exec(
            "PRAGMA writable_schema = ON; UPDATE sqlite_schema SET sql = replace(sql, ' NOT NULL', '') "
                ."WHERE type = 'table'",
        );
        $database->close();
        $database = new \SQLite3($folder.'/'.('ios' === $platform ? 'Pouch.sqlite' : 'pouch.db'));
        $database->enableExceptions(true);
        [$slip, $room, $place, $key] = 'ios' === $platform
            ? ['ZSLIP', 'ZROOM', 'ZPLACE', 'Z_PK']
            : ['slip', 'room_id', 'slip_id', 'slip_id'];
        try {
            if ('missing' === $what) {
                [$parcel, $name, $octets, $prefix] = 'ios' === $platform
                    ? ['ZPARCEL', 'ZPATH', 'ZOCTETS', '']
                    : ['parcel', 'store_name', 'octets', 'parcels/'];
                $rows = $database->query("SELECT rowid, $name FROM $parcel");
                while (false !== $rows && is_array($row = $rows->fetchArray(\SQLITE3_NUM))) {
                    if (null === $row[1] || !is_file($folder.'/'.$prefix.(is_string($row[1]) ? $row[1] : ''))) {
                        return $database->exec(
                            sprintf(
                                'UPDATE %s SET %s = %2$s + 1 WHERE rowid = %d', $parcel, $octets,
                                is_int($row[0]) ? $row[0] : 0,
                            ),
                        );
                    }
                }

                return false;
            }
            if ('slips' === $what) {
                $largest = "SELECT $room FROM $slip GROUP BY $room ORDER BY COUNT(*) DESC LIMIT 1";
                $order = "SELECT $key, $place FROM $slip WHERE $room = ($largest) ORDER BY $place";
                $rows = [];
                $query = $database->query($order);
                while (false !== $query && is_array($row = $query->fetchArray(\SQLITE3_NUM))) {
                    $rows[] = $row;
                }
                [$first, $second] = 'neighbours' === $harm ? [1, 2] : [0, count($rows) - 1];
                /** @var array{int, int|float} $one */
                $one = $rows[$first];
                /** @var array{int, int|float} $other */
                $other = $rows[$second];
                if ('ios' === $platform) {
                    $database->exec("UPDATE ZSLIP SET ZPLACE = CASE Z_PK WHEN $one[0] THEN $other[1] ELSE $one[1] END
                        WHERE Z_PK IN ($one[0], $other[0])");
                } else {
                    foreach ([
                        'slip', 'parcel', 'nod', 'mark', 'mention', 'spot', 'card', 'ballot', 'ballot_answer',
                        'ballot_vote', 'ring', 'link', 'offer', 'withdrawn',
                    ] as $table) {
                        $database->exec("
                            UPDATE $table SET slip_id = -CASE slip_id WHEN $one[0] THEN $other[0] ELSE $one[0] END
                                WHERE slip_id IN ($one[0], $other[0]);
                            UPDATE $table SET slip_id = -slip_id WHERE slip_id < 0");
                    }
                }

                return true;
            }
            if ('row gone' === $harm) {
                return self::change($database, "DELETE FROM $what WHERE rowid = (SELECT MAX(rowid) FROM $what)");
            }
            if ('row more' === $harm) {
                $keys = ['z_pk', strtolower($what).'_id'];
                $columns = implode(', ', array_map(static fn (string $c): string => match (true) {
                    in_array(strtolower($c), $keys, true) => "(SELECT MAX($c) + 1 FROM $what)",
                    in_array($c, ['handle', 'ZHANDLE'], true) => "$c || '9'",
                    default => $c,
                }, self::columnsOf($platform, $what)));

                return self::change($database, "INSERT INTO $what SELECT $columns FROM $what
                    WHERE rowid = (SELECT MIN(rowid) FROM $what)");
            }
            [$table, $column] = explode('.', $what);
            // What is said with 0 and 1 is said otherwise; a number of a row leads to none that is there.
            $number = 1 === preg_match('/folk_id|room_id/', $column)
                ? "$column + 1000"
                : "CASE WHEN $column IN (0, 1) THEN 1 - $column ELSE $column + 1 END";
            $another = "CASE typeof($column) WHEN 'text' THEN $column || 'x' WHEN 'real' THEN $column + 1
                WHEN 'integer' THEN $number ELSE CAST($column || 'x' AS BLOB) END";
            $row = "SELECT MIN(rowid) FROM $table WHERE $column IS NOT NULL"
                .('gone' === $harm ? " AND NOT ($column IN (0, ''))" : '');
            $row .= 'ZSENT' === $column ? ' AND ZSENT <> -978307200' : '';
            if (in_array($column, ['store_name', 'ZPATH', 'ZPEEKPATH', 'ZPICTUREPATH'], true)) {
                $row .= self::withFile($database, $folder, $table, $column);
            }

            return self::change(
                $database,
                sprintf(
                    'UPDATE %s SET %s = %s WHERE rowid = (%s)', $table, $column, 'gone' === $harm ? 'NULL' : $another,
                    $row,
                ),
            );
        } finally {
            $database->close();
        }
    }

    /** A name harms somebody only where its file is there. */
    private static function withFile(\SQLite3 $database, string $folder, string $table, string $column): string
    {
        $ids = [0];
        $rows = $database->query("SELECT rowid, $column FROM $table WHERE $column IS NOT NULL");
        while (false !== $rows && is_array($row = $rows->fetchArray(\SQLITE3_NUM))) {
            if (is_int($row[0]) && is_string($row[1]) && is_file(
                $folder.'/'.('store_name' === $column ? 'parcels/' : '').$row[1],
            )) {
                $ids[] = $row[0];
            }
        }

        return ' AND rowid IN ('.implode(', ', $ids).')';
    }

    private static function change(\SQLite3 $database, string $sql): bool
    {
        $database->exec($sql);

        return $database->changes() > 0;
    }

    /** @return list<string> */
    private static function columnsOf(string $platform, string $table): array
    {
        $tables = 'ios' === $platform ? Ios\IosSchema::TABLES : Android\AndroidSchema::tables(true);

        return Selection::columns($tables[$table]);
    }

    private static function harmFile(string $folder, string $platform, string $harm): bool
    {
        $below = 'ios' === $platform ? Ios\IosSchema::PARCELS : Android\AndroidSchema::PARCELS;
        $files = array_values(
            array_filter(
                iterator_to_array(Folder::files($folder, $below), false),
                static fn (string $f): bool => !str_contains($f, '/peek/') && filesize($folder.'/'.$f) > 3,
            ),
        );
        if (count($files) < 2) {
            return false;
        }
        [$one, $other] = [$folder.'/'.$files[0], $folder.'/'.$files[count($files) - 1]];
        if ('exchanged' === $harm && hash_file('sha256', $one) === hash_file('sha256', $other)) {
            return false;
        }
        $bytes = (string) file_get_contents($one);
        match ($harm) {
            'gone' => unlink($one),
            'empty' => file_put_contents($one, ''),
            'changed' => file_put_contents($one, substr_replace($bytes, chr(ord($bytes[2]) ^ 1), 2, 1)),
            'longer' => file_put_contents($one, $bytes."\0"),
            default => rename($one, $one.'.x') && rename($other, $one) && rename($one.'.x', $other),
        };

        return true;
    }

    /** @return list<string> keys of conversations that are not the same, worked out value by value */
    private static function differing(ChatStore $before, ChatStore $after): array
    {
        $conversations = static function (ChatStore $chats): array {
            $all = [];
            foreach ($chats->conversations() as $stored) {
                $messages = [];
                foreach ($chats->messages($stored->id) as $message) {
                    $messages[] = array_map(
                        static fn (mixed $v): string => get_debug_type($v).serialize($v),
                        MessageRow::values($message->message),
                    );
                }
                $c = $stored->conversation;
                $all[$c->key] = serialize(
                    [
                        $c->settings(), $c->members,
                        array_map(static fn (mixed $v): string => get_debug_type($v).serialize($v), $c->opaque),
                        $messages,
                    ],
                );
            }

            return $all;
        };
        [$here, $there] = [$conversations($before), $conversations($after)];
        $differing = array_filter(
            array_keys($here + $there),
            static fn (string $key): bool => ($here[$key] ?? null) !== ($there[$key] ?? null),
        );
        sort($differing);

        return array_map(strval(...), $differing);
    }

    /** @return list<string> keys of conversations that the check calls out */
    private static function named(Result $result): array
    {
        $named = [];
        foreach ($result->conversations() as $row) {
            if (in_array($row['verdict'], ['missing', 'extra'], true)) {
                $named[] = $row['key'];
            }
        }
        sort($named);

        return $named;
    }

    /** @return array{string, string, string} */
    private static function ground(string $platform, int $seed): array
    {
        self::$home ??= sys_get_temp_dir().'/geschenk-harm-'.bin2hex(random_bytes(4));
        if (!isset(self::$grounds["$platform-$seed"])) {
            $here = Folder::make(self::$home."/$platform-$seed");
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', $platform);
            $held = in_array($seed, self::MERGED, true) ? self::held($seed, $here, $platform, $chats) : null;
            (new Conversion(
                new Formats(), new ReadingHere(), $chats, new FolderFiles($here.'/files'), Folder::make($here.'/made'),
                Platform::from($platform), $held,
            ))->run(1_795_192_800_000, [], new NoProgress());
            [$out, $expected] = [$here.'/made/'.Conversion::DATA, $here.'/made/'.Conversion::EXPECTED];
            (new ReadingHere())->read($out, new FolderFiles($out), $here.'/back.sqlite', new NoProgress());
            $result = (new Comparison(new ChatStore($expected), new ChatStore($here.'/back.sqlite')))->run(
                $here.'/result.sqlite', new NoProgress(),
            );
            self::assertTrue($result->totals()->complete());
            self::assertSame(null !== $held, $result->totals()->kept > 0);
            self::$grounds["$platform-$seed"] = [$out, $expected, $here.'/back.sqlite'];
        }

        return self::$grounds["$platform-$seed"];
    }

    /** What a phone of the same edition holds: of two editions chats are not merged. */
    private static function held(int $seed, string $here, string $platform, ChatStore $chats): Held
    {
        for ($other = $seed + 1_000;; ++$other) {
            $there = Chats::random($other, "$here/$other.sqlite", "$here/there-$other", $platform);
            if ($there->source()->edition === $chats->source()->edition) {
                return new Held($there, new FolderFiles("$here/there-$other"));
            }
        }
    }
}
