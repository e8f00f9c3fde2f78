<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Pages;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;

/** Unreadable pages and rows cost themselves and no more, and a damaged backup is never silently shorter. */
#[Group('search')]
final class DamageTest extends TestCase
{
    use Scratch;

    /** Held, because a source's store lives as long as it does. */
    private ?ChatSource $source = null;

    #[DataProvider('platforms')]
    public function testALeafPageCostsItsOwnRowsAndTheyAreCountedByConversation(string $platform): void
    {
        $path = $this->data($platform);
        $whole = $this->counts($this->read(dirname($path)));
        [$table, $index] = 'ios' === $platform ? ['ZSLIP', 'ZSLIP_ROOM'] : ['slip', 'slip_in_room'];
        $pages = Pages::of($path, $table, 0x0D);
        self::assertGreaterThan(3, count($pages));
        $bytes = (string) file_get_contents($path);
        $page = $pages[1];
        file_put_contents(
            $path, substr_replace($bytes, str_repeat("\xA5", Pages::SIZE), ($page - 1) * Pages::SIZE, Pages::SIZE),
        );
        $chats = $this->read(dirname($path));
        $lost = 0;
        foreach ($chats->overview() as $row) {
            self::assertSame($whole[$row['key']], $row['messages'] + $row['lost'], $row['key']);
            $lost += $row['lost'];
        }
        self::assertGreaterThan(0, $lost);
        self::assertSame($lost, $chats->summary()['lost']);
        $findings = array_column($chats->findings(), 'count', 'code');
        self::assertSame(1, $findings['pages_unreadable']);
        self::assertSame(
            $lost,
            array_column(
                array_filter($chats->findings(), static fn (array $f): bool => $index === $f['subject']), 'count',
            )[0] ?? null,
        );
    }

    #[DataProvider('platforms')]
    public function testAPageThatOnlyLeadsToOthersCostsNothing(string $platform): void
    {
        $path = $this->data($platform, 1_500);
        $whole = $this->counts($this->read(dirname($path)));
        $roots = Pages::of($path, 'ios' === $platform ? 'ZSLIP' : 'slip', 0x05);
        self::assertNotEmpty($roots);
        $bytes = (string) file_get_contents($path);
        file_put_contents(
            $path, substr_replace($bytes, random_bytes(Pages::SIZE), ($roots[0] - 1) * Pages::SIZE, Pages::SIZE),
        );
        $chats = $this->read(dirname($path));
        self::assertSame($whole, $this->counts($chats));
        self::assertSame(0, $chats->summary()['lost']);
        self::assertContains('pages_unreadable', array_column($chats->findings(), 'code'));
    }

    public function testLostReceiptsAreCountedByConversation(): void
    {
        $path = $this->data('android', 900);
        $database = new \SQLite3($path);
        $marks = $database->querySingle('SELECT COUNT(*) FROM mark');
        $database->close();
        $pages = Pages::of($path, 'mark', 0x0D);
        self::assertGreaterThan(2, count($pages));
        $bytes = (string) file_get_contents($path);
        file_put_contents(
            $path, substr_replace($bytes, str_repeat("\xA5", Pages::SIZE), ($pages[1] - 1) * Pages::SIZE, Pages::SIZE),
        );
        $chats = $this->read(dirname($path));
        self::assertSame(0, $chats->summary()['lost']);
        $parts = array_filter($chats->findings(), static fn (array $f): bool => 'parts_lost' === $f['code']);
        $receipts = 0;
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $stored) {
                $receipts += count($stored->message->receipts);
            }
        }
        self::assertGreaterThan(0, array_sum(array_column($parts, 'count')));
        self::assertSame($marks, $receipts + array_sum(array_column($parts, 'count')));
    }

    public function testADamagedIndexCostsNothing(): void
    {
        $path = $this->data('android');
        $whole = $this->counts($this->read(dirname($path)));
        $bytes = (string) file_get_contents($path);
        foreach (Pages::of($path, 'slip_in_room', 0x0A) as $page) {
            $bytes = substr_replace($bytes, str_repeat("\0", Pages::SIZE), ($page - 1) * Pages::SIZE, Pages::SIZE);
        }
        file_put_contents($path, $bytes);
        $chats = $this->read(dirname($path));
        self::assertSame($whole, $this->counts($chats));
    }

    public function testWhatWasDeletedIsNotBroughtBackByMending(): void
    {
        $path = $this->data('android', 900);
        $database = new \SQLite3($path);
        $database->exec('PRAGMA secure_delete = OFF; DELETE FROM slip WHERE room_id = 1');
        $database->close();
        $whole = $this->counts($this->read(dirname($path)));
        $bytes = (string) file_get_contents($path);
        $pages = Pages::of($path, 'slip', 0x05);
        file_put_contents(
            $path, substr_replace($bytes, str_repeat("\1", Pages::SIZE), ($pages[0] - 1) * Pages::SIZE, Pages::SIZE),
        );
        $chats = $this->read(dirname($path));
        foreach ($chats->overview() as $row) {
            self::assertLessThanOrEqual($whole[$row['key']], $row['messages']);
        }
    }

    public function testABrokenFrameOfTheWriteAheadLogCostsItsPageAndIsCounted(): void
    {
        $folder = Phones::giving($this->path(), slips: 400)->data('otterpost');
        $whole = $this->counts($this->read($folder));
        $log = (string) file_get_contents($folder.'/pouch.db-wal');
        self::assertGreaterThan(3 * (Pages::SIZE + 24), strlen($log));
        foreach ([32 + 24 + 100, 32 + 2 * (Pages::SIZE + 24) + 300, strlen($log) - 10] as $at) {
            file_put_contents($folder.'/pouch.db-wal', substr_replace($log, chr(ord($log[$at]) ^ 0x10), $at, 1));
            $chats = $this->read($folder);
            $findings = array_column($chats->findings(), 'count', 'code');
            self::assertSame(1, $findings['log_pages_unreadable'] ?? 0, "byte $at");
            foreach ($chats->overview() as $row) {
                self::assertLessThanOrEqual($whole[$row['key']], $row['messages']);
            }
        }
        // The head of the log: its frames still tell what it said.
        foreach ([0, 10, 16, 21, 24] as $at) {
            file_put_contents($folder.'/pouch.db-wal', substr_replace($log, "\0\0", $at, 2));
            $chats = $this->read($folder);
            self::assertSame($whole, $this->counts($chats), "byte $at");
            self::assertContains('damage_mended', array_column($chats->findings(), 'code'), "byte $at");
        }
        // Heads of frames.
        foreach ([0, 1, 2] as $frame) {
            $at = 32 + $frame * (Pages::SIZE + 24) + 9;
            file_put_contents($folder.'/pouch.db-wal', substr_replace($log, chr(ord($log[$at]) ^ 0x10), $at, 1));
            self::assertSame($whole, $this->counts($this->read($folder)), "frame $frame");
        }
        // Cut within a frame or a transaction, or full of zeros: said, and not counted by anybody.
        foreach ([
            substr($log, 0, strlen($log) - 1_000), substr($log, 0, strlen($log) - Pages::SIZE - 24),
            substr($log, 0, -3 * (Pages::SIZE + 24)).str_repeat("\0", 3 * (Pages::SIZE + 24)),
        ] as $n => $cut) {
            file_put_contents($folder.'/pouch.db-wal', $cut);
            self::assertContains('loss_uncounted', array_column($this->read($folder)->findings(), 'code'), "cut $n");
        }
    }

    /** @return iterable<string, array{string, string, list<string>}> platform, what is changed, what is listed */
    public static function oddValues(): iterable
    {
        $android = [
            'a time that is a word' => [
                "UPDATE slip SET sent_ms = 'yesterday' WHERE slip_id IN (2, 3)", ['slip.sent_ms'],
            ],
            'a time beyond all calendars' => [
                'UPDATE slip SET sent_ms = 9223372036854775807, landed_ms = -9223372036854775808 WHERE slip_id = 2',
                ['slip.landed_ms', 'slip.sent_ms'],
            ],
            'a real time' => ['UPDATE slip SET landed_ms = 1.5 WHERE slip_id = 2', ['slip.landed_ms']],
            'a reaction beyond all calendars' => [
                'UPDATE nod SET given_ms = -9223372036854775808 WHERE rowid = 1', ['nod.given_ms'],
            ],
            'a receipt of words' => ["UPDATE mark SET read_ms = 'soon' WHERE rowid = 1", ['mark.read_ms']],
            'a label without colour' => ['UPDATE label SET tint = NULL WHERE label_id = 1', ['label.tint']],
            'a label without name' => ['UPDATE label SET name = NULL WHERE label_id = 1', ['label.name']],
            'a canned answer without words' => [
                'UPDATE canned SET body = NULL, shortcut = NULL WHERE canned_id = 1',
                ['canned.body', 'canned.shortcut'],
            ],
            'a room of an odd founding' => [
                "UPDATE room SET founded_ms = 'long ago' WHERE room_id = 1", ['room.founded_ms'],
            ],
            'a room of no sort' => ["UPDATE room SET sort = 'odd' WHERE room_id = 1", ['room.sort']],
            'a person barred perhaps' => ["UPDATE folk SET barred = 'perhaps' WHERE folk_id = 1", ['folk.barred']],
            'details that are no JSON' => [
                "UPDATE slip SET foreign_json = 'no JSON' WHERE slip_id = 2; UPDATE room "
                    ."SET foreign_json = '[1' WHERE room_id = 1",
                ['room.foreign_json', 'slip.foreign_json'],
            ],
            'an attachment without a type' => [
                'UPDATE parcel SET media_type = NULL WHERE parcel_id = 1', ['parcel.media_type'],
            ],
            'a preview without a byte' => ["UPDATE parcel SET peek = x'' WHERE parcel_id = 1", ['parcel.peek']],
            'a place that is nowhere' => [
                'UPDATE spot SET north = 9e999 WHERE rowid = (SELECT MIN(rowid) FROM spot)', ['spot.north'],
            ],
            'an edition that nobody knows' => [
                "UPDATE holt SET value = 'Something' WHERE name = 'edition'", ['holt.edition'],
            ],
        ];
        $ios = [
            'a room of an endless founding' => ['UPDATE ZROOM SET ZFOUNDED = 9e999 WHERE Z_PK = 1', ['ZROOM.ZFOUNDED']],
            'numbers that are no list' => ["UPDATE ZFOLK SET ZNUMBERS = 'no list' WHERE Z_PK = 1", ['ZFOLK.ZNUMBERS']],
            'a label without name' => ['UPDATE ZLABEL SET ZNAME = NULL WHERE Z_PK = 1', ['ZLABEL.ZNAME']],
            'a canned answer without words' => [
                'UPDATE ZCANNED SET ZBODY = NULL, ZSHORTCUT = NULL WHERE Z_PK = 1',
                ['ZCANNED.ZBODY', 'ZCANNED.ZSHORTCUT'],
            ],
            'a time beyond all calendars' => ['UPDATE ZSLIP SET ZSENT = 1e300 WHERE Z_PK = 2', ['ZSLIP.ZSENT']],
            'no time' => ['UPDATE ZSLIP SET ZSENT = NULL WHERE Z_PK = 2', ['ZSLIP.ZSENT']],
            'a length beyond all films' => ['UPDATE ZPARCEL SET ZSPAN = 1e300 WHERE Z_PK = 1', ['ZPARCEL.ZSPAN']],
            'nods that are a number' => [
                "UPDATE ZSLIP SET ZEXTRAS = '<plist><dict><key>nods</key><integer>7</integer></dict></plist>' "
                    .'WHERE Z_PK = 2',
                ['ZSLIP.ZEXTRAS.nods'],
            ],
            'an endless nod' => [
                "UPDATE ZSLIP SET ZEXTRAS = '<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<plist "
                    .'version="1.0"><dict><key>nods</key><array><dict><key>sign</key><string>x</string>'
                    ."<key>given</key><real>1e300</real></dict></array></dict></plist>' WHERE Z_PK = 2",
                ['ZSLIP.ZEXTRAS.nods.0.given'],
            ],
            'an edition that is nothing' => ['UPDATE ZHOLT SET ZEDITION = NULL', ['ZHOLT.ZEDITION']],
        ];
        foreach ($android as $name => [$change, $listed]) {
            yield "Android: $name" => ['android', $change, $listed];
        }
        foreach ($ios as $name => [$change, $listed]) {
            yield "iOS: $name" => ['ios', $change, $listed];
        }
    }

    /** @param list<string> $listed */
    #[DataProvider('oddValues')]
    public function testAnOddValueCostsItselfAndIsListed(string $platform, string $change, array $listed): void
    {
        $path = $this->data($platform, 400, 'Otterpost Counter');
        $database = new \SQLite3($path);
        // As on a phone whose tables promise less.
        $database->exec('PRAGMA writable_schema = ON');
        ini_set('sqlite3.defensive', '0');
        $loose = new \SQLite3($path);
        ini_set('sqlite3.defensive', '1');
        $loose->exec("PRAGMA writable_schema = ON; UPDATE sqlite_schema SET sql = replace(sql, ' NOT NULL', '')");
        $loose->close();
        $database->close();
        $before = $this->read(dirname($path));
        $whole = $this->counts($before);
        $known = array_map(static fn (array $f): string => $f['code'].$f['subject'], $before->findings());
        $database = new \SQLite3($path);
        $database->enableExceptions(true);
        $database->exec($change);
        $database->close();
        $chats = $this->read(dirname($path), true);
        self::assertSame($whole, $this->counts($chats), 'No message and no room is lost by it.');
        self::assertSame(0, $chats->summary()['lost']);
        $found = array_filter(
            $chats->findings(),
            static fn (array $f): bool => !in_array(
                $f['code'].$f['subject'], $known, true,
            ) && !str_starts_with($f['code'], 'time_'),
        );
        self::assertSame($listed, array_values(array_unique(array_column($found, 'subject'))));
        // What was read is written and arrives.
        foreach (['android', 'ios'] as $n => $to) {
            Expectation::of(Chats::format($to)->capabilities())->build(
                $chats, $this->path("expected-$n.sqlite"), new NoProgress(),
            );
            $expected = new ChatStore($this->path("expected-$n.sqlite"));
            $back = Chats::through(
                $expected, dirname($path), Chats::format($to), $this->path("to-$n"), $this->path("back-$n.sqlite"),
            );
            $result = (new Comparison($expected, $back))->run($this->path("result-$n.sqlite"), new NoProgress());
            self::assertTrue(
                $result->totals()->complete(),
                $to.json_encode([$result->totals(), $result->reasons(), $result->accountDifferences()]),
            );
        }
    }

    public function testARoomThatIsThereTwiceIsReadTwice(): void
    {
        $path = $this->data('ios');
        $whole = $this->counts($this->read(dirname($path)));
        $database = new \SQLite3($path);
        $database->exec('UPDATE ZROOM SET ZHANDLE = (SELECT ZHANDLE FROM ZROOM WHERE Z_PK = 2) WHERE Z_PK = 3');
        $database->close();
        $chats = $this->read(dirname($path));
        self::assertSame(array_sum($whole), array_sum($this->counts($chats)));
        self::assertCount(count($whole), $this->counts($chats));
        self::assertContains('conversation_twice', array_column($chats->findings(), 'code'));
    }

    /** Random bytes anywhere: chats, counted losses, or a named error; never anything else. */
    #[DataProvider('platforms')]
    public function testRandomDamage(string $platform): void
    {
        $path = $this->data($platform);
        $good = (string) file_get_contents($path);
        $chance = new \Random\Randomizer(new \Random\Engine\Mt19937(20_26));
        $read = 0;
        for ($seed = 0; $seed < 40; ++$seed) {
            $bytes = $good;
            for ($n = $chance->getInt(1, 12); $n > 0; --$n) {
                $length = $chance->getInt(1, 600);
                $bytes = substr_replace(
                    $bytes, $chance->getBytes($length), $chance->getInt(0, strlen($bytes) - $length), $length,
                );
            }
            file_put_contents($path, $bytes);
            try {
                $chats = $this->read(dirname($path));
                foreach ($chats->conversations() as $conversation) {
                    foreach ($chats->messages($conversation->id) as $message) {
                        ++$read;
                    }
                }
            } catch (UnusableInput $error) {
                self::assertStringNotContainsString("\n", $error->getMessage());
            }
        }
        self::assertGreaterThan(0, $read);
        self::assertLessThan(256_000_000, memory_get_peak_usage());
    }

    /** @return iterable<string, array{string}> */
    public static function platforms(): iterable
    {
        yield 'Android' => ['android'];
        yield 'iOS' => ['ios'];
    }

    private function read(string $folder, bool $hash = false): ChatStore
    {
        $this->source = null;
        $this->source = ChatSource::open($folder, new Formats(), $hash);

        return $this->source->chats;
    }

    /** @return array<string, int> messages by conversation */
    private function counts(ChatStore $chats): array
    {
        return array_column($chats->overview(), 'messages', 'key');
    }

    /** The database of a small phone, all of it in the main file. */
    private function data(string $platform, int $slips = 400, string $edition = 'Otterpost'): string
    {
        $android = Phones::giving($this->path(), [], false, $slips, $edition)->data(
            'Otterpost' === $edition ? 'otterpost' : 'otterpost.counter',
        );
        $path = $android.'/pouch.db';
        if ('ios' === $platform) {
            $source = ChatSource::open($android, new Formats(), true);
            Chats::format('ios')->writer()?->write(
                $source->chats, new FolderFiles($android), $this->path('ios'), new NoProgress(),
            );
            $path = $this->path('ios/Pouch.sqlite');
        }
        $checkpoint = new \SQLite3($path);
        $checkpoint->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $checkpoint->close();

        return $path;
    }
}
