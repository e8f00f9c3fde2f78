<?php

declare(strict_types=1);

namespace Geschenk\Tests\Hostile;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingApart;
use Geschenk\Core\Messenger\ReadingLimits;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;

/** Makers of phones that were prepared to do harm: each takes an honest phone and spoils its data. */
final class PreparedPhones
{
    public const PASSWORD = 'nine pale herons';

    /** What must not happen to a phone's database: a query that never ends, whoever runs it. */
    private const ENDLESS = 'SELECT COUNT(*) FROM slip a, slip b, slip c, slip d, slip e, slip f';
    private const HARSH_TEXT = "\u{202e}<img src=x onerror=alert(1)>'\";DROP TABLE "
        ."slip;--\u{0}%s%n\x1b[2J../../../etc/passwd\u{feff}{{7*7}}";

    /** @return array<string, array{make: callable(PhoneFolder): void, answer: 'whole'|'said'|'either'}> */
    public static function all(): array
    {
        return [
            'several statements in the text of a table' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::schema(
                    $phone, "UPDATE sqlite_schema SET sql = sql || '; ".self::ENDLESS."' WHERE name = 'slip'",
                ),
            ],
            'a check that burns' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    'PRAGMA ignore_check_constraints = ON; '
                        .'CREATE TABLE burner (a INTEGER CHECK (length(hex(zeroblob(450000000 + a))) > 0)); '
                        .'WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM n '
                        .'WHERE x < 2000) INSERT INTO burner SELECT x FROM n',
                ),
            ],
            'a check that burns in a table that is read' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::schema(
                    $phone,
                    "UPDATE sqlite_schema SET sql = substr(sql, 1, length(sql) - 1) || ', "
                        ."CHECK (length(hex(zeroblob(450000000 + slip_id))) > 0))' WHERE name = 'slip'",
                ),
            ],
            'a column that computes itself' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    'CREATE TABLE burner (a INTEGER, b AS (hex(zeroblob(450000000 + a)))); '
                        .'INSERT INTO burner (a) VALUES (1), (2)',
                ),
            ],
            'nested views' => ['answer' => 'whole', 'make' => self::nestedViews(...)],
            'a view in the place of a table' => [
                'answer' => 'either',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    'ALTER TABLE nod RENAME TO nod_; CREATE VIEW nod AS '
                        .'SELECT a.slip_id, NULL AS folk_id, b.body AS sign, 1 AS given_ms '
                        .'FROM slip a, slip b, slip c, slip d, slip e',
                ),
            ],
            'a virtual table' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::schema(
                    $phone,
                    'INSERT INTO sqlite_schema (type, name, tbl_name, rootpage, sql) '
                        ."VALUES ('table', 'loot', 'loot', 0, 'CREATE VIRTUAL TABLE loot USING dbstat')",
                ),
            ],
            'a trigger on everything' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone, 'CREATE TRIGGER deletes AFTER INSERT ON slip BEGIN DELETE FROM slip; END',
                ),
            ],
            'an index over an expression that burns' => [
                'answer' => 'either',
                'make' => static fn (PhoneFolder $phone) => self::schema(
                    $phone,
                    "UPDATE sqlite_schema SET sql = 'CREATE INDEX slip_in_room ON slip (hex(zeroblob(450000000 + "
                        ."slip_id)))' WHERE name = 'slip_in_room'",
                ),
            ],
            'two thousand tables' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    implode(';', array_map(static fn (int $n): string => "CREATE TABLE t$n (a)", range(1, 2000))),
                ),
            ],
            'names that are no UTF-8' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    "CREATE TABLE \"n\xff\xfet\" (a); ALTER TABLE slip ADD COLUMN \"\xc3\x28\" TEXT; UPDATE slip "
                        ."SET \"\xc3\x28\" = 'x' WHERE slip_id % 7 = 0",
                ),
            ],
            'a media type that is no UTF-8' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    "UPDATE parcel SET media_type = CAST(x'fffe2f80' AS TEXT), shown_name = CAST(x'ff00ff' AS TEXT)",
                ),
            ],
            'a text of twelve megabytes with a mention' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::change(
                    $phone,
                    "UPDATE slip SET body = replace(hex(zeroblob(6000000)), '00', 'é ') "
                        .'WHERE slip_id = (SELECT MIN(slip_id) FROM slip '
                        .'WHERE body IS NOT NULL); INSERT INTO mention SELECT MIN(slip_id), (SELECT MIN(folk_id) '
                        .'FROM folk), 9000000, 2 FROM slip WHERE body IS NOT NULL',
                ),
            ],
            'a text of a hundred and forty megabytes with a mention' => [
                'answer' => 'whole', 'make' => self::hugeText(...),
            ],
            'hostile in every text' => [
                'answer' => 'whole',
                'make' => static fn (PhoneFolder $phone) => self::everyValue($phone, 'TEXT', self::HARSH_TEXT),
            ],
            'the largest number everywhere' => [
                'answer' => 'either',
                'make' => static fn (PhoneFolder $phone) => self::everyValue($phone, 'INTEGER', \PHP_INT_MAX),
            ],
            'no number where one must be' => [
                'answer' => 'either',
                'make' => static fn (PhoneFolder $phone) => self::everyValue($phone, 'INTEGER', 'nine'),
            ],
            'hostile in every value' => ['answer' => 'whole', 'make' => self::everyTextAndNumber(...)],
            'a folder that is a link' => ['answer' => 'whole', 'make' => self::linkedFolder(...)],
            'a database that is a link' => ['answer' => 'said', 'make' => self::linkedDatabase(...)],
            'a sealed backup that is a bomb' => ['answer' => 'said', 'make' => self::bomb(...)],
            'a log without end' => ['answer' => 'either', 'make' => static function (PhoneFolder $phone): void {
                $log = self::database($phone).'-wal';
                file_put_contents(
                    $log, str_repeat(is_file($log) ? (string) file_get_contents($log) : random_bytes(4096), 20),
                );
            }],
        ];
    }

    /**
     * Backs a phone up as the shop does, within narrow limits, and plans its conversion.
     *
     * @return int messages that were read, and those that were told as lost
     */
    public static function serve(PhoneFolder $phone, string $bag): int
    {
        $formats = new Formats();
        // What ends them is what they compute: how long that takes is the computer's affair, which may be busy.
        $limits = static fn (int $bytes): ReadingLimits => new ReadingLimits(20, 1_200, 402_653_184, 200_000_000);
        $reading = new ReadingApart(dirname(__DIR__, 2).'/bin/read-chats', $formats, $limits);
        $backups = new Backups($formats, $reading);
        is_file(self::database($phone))
            ? $backups->overCable(Phones::link($phone), $bag)
            : $backups->outOf(Phones::link($phone), 'pouch.sealed', $bag, BackupKey::of(self::PASSWORD));
        Bag::validate($bag);
        $chats = new ChatStore($bag.'/data/chats.sqlite', true);
        // What was read can be shown and converted.
        $shown = [iterator_to_array($chats->people(), false), $chats->overview(), $chats->findings()];
        json_encode($shown, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
        Expectation::of(Chats::format('ios')->capabilities())->build($chats, $bag.'-expected.sqlite', new NoProgress());

        return $chats->messageCount() + $chats->summary()['lost'];
    }

    private static function database(PhoneFolder $phone): string
    {
        return $phone->data('otterpost').'/pouch.db';
    }

    private static function change(PhoneFolder $phone, string $sql): void
    {
        $database = new \SQLite3(self::database($phone));
        $database->enableExceptions(true);
        $database->exec($sql);
        $database->close();
    }

    /** Schema text that SQLite itself would refuse to write. */
    private static function schema(PhoneFolder $phone, string $sql): void
    {
        ini_set('sqlite3.defensive', '0');
        try {
            self::change(
                $phone,
                "PRAGMA writable_schema = ON; $sql; PRAGMA writable_schema = OFF; PRAGMA wal_checkpoint(TRUNCATE)",
            );
        } finally {
            ini_set('sqlite3.defensive', '1');
        }
    }

    private static function nestedViews(PhoneFolder $phone): void
    {
        $views = 'CREATE VIEW v0 AS SELECT slip_id AS a FROM slip;';
        for ($n = 1; $n <= 24; ++$n) {
            $views .= sprintf('CREATE VIEW v%d AS SELECT x.a FROM v%d x, v%2$d y;', $n, $n - 1);
        }
        self::change($phone, $views);
    }

    public static function hugeText(PhoneFolder $phone): void
    {
        self::change($phone, <<<'SQL'
            UPDATE slip SET body = replace(hex(zeroblob(46000000)), '00', 'é ')
            WHERE slip_id = (SELECT MIN(slip_id) FROM slip WHERE body IS NOT NULL);
            INSERT INTO mention
            SELECT MIN(slip_id), (SELECT MIN(folk_id) FROM folk), 9000000, 2 FROM slip WHERE body IS NOT NULL
            SQL);
    }

    public static function bomb(PhoneFolder $phone): void
    {
        self::change($phone, 'PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $file = fopen(self::database($phone), 'r+');
        assert(false !== $file);
        ftruncate($file, 700_000_000);
        fclose($file);
        Phones::seal($phone, self::PASSWORD);
    }

    /** Its texts, its numbers, and what the phone says of itself. */
    public static function everyTextAndNumber(PhoneFolder $phone): void
    {
        self::everyValue($phone, 'TEXT', self::HARSH_TEXT);
        self::everyValue($phone, 'BLOB', self::HARSH_TEXT);
        foreach ([\PHP_INT_MAX, \PHP_INT_MIN, 'nine', -1, 1.5, "\xff\xfe", 4_294_967_296] as $n => $value) {
            self::everyValue($phone, 'INTEGER', $value, $n);
        }
        $names = array_fill_keys(['maker', 'model', 'os_version', 'owner'], self::HARSH_TEXT);
        $phone->change(static fn (array $state): array => [...$state, ...$names]);
    }

    /** @param int|null $seventh changes only each seventh row, another one in each column; null: all */
    private static function everyValue(
        PhoneFolder $phone,
        string $type,
        string|int|float $value,
        ?int $seventh = null,
    ): void {
        $database = new \SQLite3(self::database($phone));
        $nth = 0;
        $tables = $database->query(
            'SELECT m.name AS t, c.name AS c FROM sqlite_schema m, pragma_table_info(m.name) c '
                ."WHERE m.type = 'table' AND c.type = '$type' AND NOT c.pk AND m.name <> 'holt'",
        );
        while (false !== $tables && is_array($row = $tables->fetchArray(\SQLITE3_ASSOC))) {
            ['t' => $table, 'c' => $column] = array_map(static fn (mixed $v): string => is_string($v) ? $v : '', $row);
            // What tells the rows apart stays as it is: this is about values.
            if (str_ends_with($column, '_id') || 'handle' === $column || ('slip' === $table && 'wire_id' === $column)) {
                continue;
            }
            $rows = null === $seventh ? '1' : sprintf('(rowid + %d) %% 7 = %d', ++$nth, $seventh);
            $update = $database->prepare("UPDATE $table SET $column = :value WHERE $rows");
            if (false !== $update) {
                $update->bindValue(':value', $value);
                $update->execute();
            }
        }
        $database->close();
    }

    private static function linkedFolder(PhoneFolder $phone): void
    {
        symlink('/etc', $phone->data('otterpost').'/parcels/etc');
        symlink('/', $phone->data('otterpost').'/root');
        self::change(
            $phone,
            "UPDATE parcel SET store_name = 'etc/passwd' WHERE parcel_id % 2 = 0; UPDATE parcel "
                ."SET store_name = '../../../../root/etc/passwd' WHERE parcel_id % 4 = 1",
        );
    }

    private static function linkedDatabase(PhoneFolder $phone): void
    {
        $elsewhere = dirname($phone->path).'/elsewhere.db';
        self::change($phone, 'PRAGMA wal_checkpoint(TRUNCATE)');
        rename(self::database($phone), $elsewhere);
        array_map('unlink', glob(self::database($phone).'-*') ?: []);
        symlink($elsewhere, self::database($phone));
    }
}
