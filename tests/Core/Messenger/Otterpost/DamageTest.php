<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Messenger\ChatSource;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Unreadable pages and rows cost themselves and no more, and a damaged backup is never silently shorter. */
final class DamageTest extends TestCase
{
    use Scratch;

    private const PAGE = 4096;

    /** Held, because a source's store lives as long as it does. */
    private ?ChatSource $source = null;

    #[DataProvider('platforms')]
    public function testALeafPageCostsItsOwnRowsAndTheyAreCountedByConversation(string $platform): void
    {
        $path = $this->data($platform);
        $whole = $this->counts($this->read(dirname($path)));
        [$table, $index] = 'ios' === $platform ? ['ZSLIP', 'ZSLIP_ROOM'] : ['slip', 'slip_in_room'];
        $pages = $this->pages($path, $table, 0x0D);
        self::assertGreaterThan(3, count($pages));
        $bytes = (string) file_get_contents($path);
        $page = $pages[1];
        file_put_contents($path, substr_replace($bytes, str_repeat("\xA5", self::PAGE), ($page - 1) * self::PAGE, self::PAGE));
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
        self::assertSame($lost, array_column(array_filter($chats->findings(), static fn (array $f): bool => $index === $f['subject']), 'count')[0] ?? null);
    }

    #[DataProvider('platforms')]
    public function testAPageThatOnlyLeadsToOthersCostsNothing(string $platform): void
    {
        $path = $this->data($platform, 1_500);
        $whole = $this->counts($this->read(dirname($path)));
        $roots = $this->pages($path, 'ios' === $platform ? 'ZSLIP' : 'slip', 0x05);
        self::assertNotEmpty($roots);
        $bytes = (string) file_get_contents($path);
        file_put_contents($path, substr_replace($bytes, random_bytes(self::PAGE), ($roots[0] - 1) * self::PAGE, self::PAGE));
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
        $pages = $this->pages($path, 'mark', 0x0D);
        self::assertGreaterThan(2, count($pages));
        $bytes = (string) file_get_contents($path);
        file_put_contents($path, substr_replace($bytes, str_repeat("\xA5", self::PAGE), ($pages[1] - 1) * self::PAGE, self::PAGE));
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
        foreach ($this->pages($path, 'slip_in_room', 0x0A) as $page) {
            $bytes = substr_replace($bytes, str_repeat("\0", self::PAGE), ($page - 1) * self::PAGE, self::PAGE);
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
        $pages = $this->pages($path, 'slip', 0x05);
        file_put_contents($path, substr_replace($bytes, str_repeat("\1", self::PAGE), ($pages[0] - 1) * self::PAGE, self::PAGE));
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
        self::assertGreaterThan(3 * (self::PAGE + 24), strlen($log));
        foreach ([32 + 24 + 100, 32 + 2 * (self::PAGE + 24) + 300, strlen($log) - 10] as $at) {
            file_put_contents($folder.'/pouch.db-wal', substr_replace($log, chr(ord($log[$at]) ^ 0x10), $at, 1));
            $chats = $this->read($folder);
            $findings = array_column($chats->findings(), 'count', 'code');
            self::assertSame(1, $findings['log_pages_unreadable'] ?? 0, "byte $at");
            foreach ($chats->overview() as $row) {
                self::assertLessThanOrEqual($whole[$row['key']], $row['messages']);
            }
        }
        // The head of the log: nothing of it can be trusted, and that is said too.
        file_put_contents($folder.'/pouch.db-wal', substr_replace($log, "\0\0", 0, 2));
        self::assertContains('log_pages_unreadable', array_column($this->read($folder)->findings(), 'code'));
    }

    public function testARowOfTheWrongTypeCostsThatRowAlone(): void
    {
        $path = $this->data('android');
        $whole = $this->counts($this->read(dirname($path)));
        $database = new \SQLite3($path);
        $database->exec("UPDATE slip SET sent_ms = 'yesterday' WHERE slip_id IN (2, 3)");
        $room = $database->querySingle('SELECT r.handle FROM slip s JOIN room r USING (room_id) WHERE s.slip_id = 2');
        $database->close();
        $chats = $this->read(dirname($path));
        self::assertIsString($room);
        $row = $chats->conversation(str_replace('~river', '', $room)) ?? self::fail();
        self::assertSame($whole[$row->conversation->key] - 2, $chats->messageCount($row->id));
        self::assertSame(2, $chats->summary()['lost']);
        self::assertSame(2, array_column($chats->findings(), 'count', 'code')['row_unreadable'] ?? 0);
        $places = [];
        foreach ($chats->messages($row->id) as $message) {
            $places[] = $message->place;
        }
        self::assertSame(range(1, count($places)), $places);
    }

    public function testARoomOrAPersonOfTheWrongTypeCostsTheirSettingsAndNoMessage(): void
    {
        foreach (['android' => ["UPDATE room SET sort = 'odd' WHERE room_id = 1", "UPDATE folk SET barred = 'perhaps' WHERE folk_id = 1"], 'ios' => ['UPDATE ZROOM SET ZFOUNDED = 9e999 WHERE Z_PK = 1', "UPDATE ZFOLK SET ZNUMBERS = 'no list' WHERE Z_PK = 1"]] as $platform => $changes) {
            $path = $this->data($platform);
            $whole = array_sum($this->counts($this->read(dirname($path))));
            $database = new \SQLite3($path);
            foreach ($changes as $change) {
                $database->exec($change);
            }
            $database->close();
            $chats = $this->read(dirname($path));
            self::assertSame($whole, array_sum($this->counts($chats)), $platform);
            self::assertArrayHasKey('room-1', $this->counts($chats));
            self::assertCount(2, array_filter($chats->findings(), static fn (array $f): bool => 'row_unreadable' === $f['code']));
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
                $bytes = substr_replace($bytes, $chance->getBytes($length), $chance->getInt(0, strlen($bytes) - $length), $length);
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

    private function read(string $folder): ChatStore
    {
        $this->source = null;
        $this->source = ChatSource::open($folder, new Formats(), false, new NoProgress());

        return $this->source->chats;
    }

    /** @return array<string, int> messages by conversation */
    private function counts(ChatStore $chats): array
    {
        return array_column($chats->overview(), 'messages', 'key');
    }

    /** @return list<int> numbers of the pages of a table or index that are of a type */
    private function pages(string $path, string $name, int $type): array
    {
        $database = new \SQLite3($path);
        $bytes = (string) file_get_contents($path);
        $root = $database->querySingle("SELECT rootpage FROM sqlite_schema WHERE name = '$name'");
        $database->close();
        self::assertIsInt($root);
        $pages = [];
        $waiting = [$root];
        while (null !== ($page = array_shift($waiting))) {
            $at = ($page - 1) * self::PAGE;
            $here = ord($bytes[$at]);
            if ($here === $type) {
                $pages[] = $page;
            }
            if (0x05 === $here || 0x02 === $here) {
                /** @var array{1: int} $count */
                $count = unpack('n', $bytes, $at + 3);
                for ($i = 0; $i < $count[1]; ++$i) {
                    /** @var array{1: int} $cell */
                    $cell = unpack('n', $bytes, $at + 12 + 2 * $i);
                    /** @var array{1: int} $child */
                    $child = unpack('N', $bytes, $at + $cell[1]);
                    $waiting[] = $child[1];
                }
                /** @var array{1: int} $right */
                $right = unpack('N', $bytes, $at + 8);
                $waiting[] = $right[1];
            }
        }

        return $pages;
    }

    /** The database of a small phone, all of it in the main file. */
    private function data(string $platform, int $slips = 400): string
    {
        $android = Phones::giving($this->path(), [], false, $slips)->data('otterpost');
        $path = $android.'/pouch.db';
        if ('ios' === $platform) {
            $source = ChatSource::open($android, new Formats(), true, new NoProgress());
            Chats::format('ios')->writer()?->write($source->chats, new FolderFiles($android), $this->path('ios'), new NoProgress());
            $path = $this->path('ios/Pouch.sqlite');
        }
        $checkpoint = new \SQLite3($path);
        $checkpoint->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $checkpoint->close();

        return $path;
    }
}
