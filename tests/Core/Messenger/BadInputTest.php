<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Each kind of bad input gets its own clear answer, and nothing is touched by looking. */
final class BadInputTest extends TestCase
{
    use Scratch;

    public function testAFolderThatHoldsNoMessenger(): void
    {
        mkdir($this->path('holiday'));
        touch($this->path('holiday/picture.jpg'));
        $this->assertRefused($this->path('holiday'), 'not_messenger_data');
    }

    /** @return iterable<string, array{string}> */
    public static function otherPeoplesDatabases(): iterable
    {
        yield 'no table that is ours' => ['CREATE TABLE recipe (name)'];
        yield 'only the slips' => ['CREATE TABLE ZSLIP (Z_PK INTEGER PRIMARY KEY)'];
        yield 'only the head' => ['CREATE TABLE Z_METADATA (Z_VERSION INTEGER); INSERT INTO Z_METADATA VALUES (3)'];
    }

    #[DataProvider('otherPeoplesDatabases')]
    public function testADatabaseOfTheSameNameThatIsSomebodyElses(string $sql): void
    {
        mkdir($this->path('other'));
        foreach (['Pouch.sqlite', 'pouch.db'] as $name) {
            $database = new \SQLite3($this->path('other/'.$name));
            $database->exec($sql);
            $database->close();
            $this->assertRefused($this->path('other'), 'not_messenger_data');
            unlink($this->path('other/'.$name));
        }
    }

    public function testAPathThatIsNotThere(): void
    {
        $this->assertRefused($this->path('nowhere'), 'not_there');
    }

    /** @return iterable<string, array{string}> */
    public static function platforms(): iterable
    {
        yield 'Android' => ['android'];
        yield 'iOS' => ['ios'];
    }

    #[DataProvider('platforms')]
    public function testWhatIsNotSqlite(string $platform): void
    {
        $path = $this->data($platform);
        file_put_contents($path, random_bytes(9_000));
        $this->assertRefused(dirname($path), 'not_sqlite');
    }

    #[DataProvider('platforms')]
    public function testADatabaseThatIsCutShort(string $platform): void
    {
        $path = $this->data($platform);
        file_put_contents($path, substr((string) file_get_contents($path), 0, (int) (0.6 * (int) filesize($path))));
        $this->assertRefused(dirname($path), 'cut_short');
    }

    public function testAWriteAheadLogThatWasNeverFinishedIsReadAsFarAsItWas(): void
    {
        $folder = Phones::giving($this->path(), [], false)->data('otterpost');
        $whole = ChatSource::open($folder, new Formats(), true)->chats->messageCount();
        // A transaction that power was cut from: frames without the one that ends it, and half a frame.
        $log = (string) file_get_contents($folder.'/pouch.db-wal');
        file_put_contents($folder.'/pouch.db-wal', substr($log, 0, strlen($log) - 4_096 - 24));
        self::assertLessThan(
            $whole, ChatSource::open($folder, new Formats(), true)->chats->messageCount(),
        );
        file_put_contents($folder.'/pouch.db-wal', $log.substr($log, 32, 1_000));
        self::assertSame(
            $whole, ChatSource::open($folder, new Formats(), true)->chats->messageCount(),
        );
        file_put_contents($folder.'/pouch.db-wal', '');
        ChatSource::open($folder, new Formats(), true);
    }

    public function testTextsInAnotherEncoding(): void
    {
        $path = $this->data('android');
        $bytes = (string) file_get_contents($path);
        // The header's field for it, at byte 56: 2 is UTF-16, little-endian.
        file_put_contents($path, substr_replace($bytes, pack('N', 2), 56, 4));
        $this->assertRefused(dirname($path), 'other_encoding');
    }

    public function testUnknownGenerations(): void
    {
        $android = $this->data('android');
        $database = new \SQLite3($android);
        $database->exec('PRAGMA user_version = 9');
        $database->close();
        $this->assertRefused(dirname($android), '"generation":9,"known":"4, 7"');
        $ios = $this->data('ios');
        $database = new \SQLite3($ios);
        $database->exec('UPDATE Z_METADATA SET Z_VERSION = 44');
        $database->close();
        $this->assertRefused(dirname($ios), '"generation":44,"known":"3"');
    }

    public function testATableThatLacksAColumn(): void
    {
        $path = $this->data('android');
        $database = new \SQLite3($path);
        $database->exec('ALTER TABLE slip DROP COLUMN answers_wire_id');
        $database->close();
        $this->assertRefused(dirname($path), 'table slip lacks answers_wire_id');
    }

    public function testAViewInThePlaceOfATableIsNotRun(): void
    {
        $path = $this->data('android');
        $database = new \SQLite3($path);
        $database->exec('ALTER TABLE mark RENAME TO mark_real; CREATE VIEW mark AS SELECT * FROM mark_real');
        $database->close();
        $this->assertRefused(dirname($path), 'table mark lacks');
    }

    public function testAnAttachmentPathThatLeadsOutIsNeverFollowed(): void
    {
        $path = $this->data('android');
        file_put_contents($this->path('secret.txt'), 'not yours');
        symlink($this->path('secret.txt'), dirname($path).'/parcels/photo/link.jpg');
        $database = new \SQLite3($path);
        $database->exec(
            "UPDATE parcel SET store_name = '../../secret.txt' WHERE parcel_id = 1; UPDATE parcel "
                ."SET store_name = 'photo/link.jpg' WHERE parcel_id = 2; UPDATE parcel "
                ."SET store_name = '/etc/hostname' WHERE parcel_id = 3",
        );
        $database->close();
        $source = ChatSource::open(dirname($path), new Formats(), true);
        $summary = $source->chats->summary();
        $outside = array_values(
            array_filter($source->chats->findings(), static fn (array $f): bool => 'attachment_outside' === $f['code']),
        );
        self::assertSame(3, $outside[0]['count'] ?? 0);
        self::assertGreaterThanOrEqual(3, $summary['attachments_missing']);
        self::assertNotNull($source->files);
        self::assertNull($source->files->open('parcels/../../secret.txt'));
        self::assertNull($source->files->open('parcels/photo/link.jpg'));
    }

    public function testLookingChangesNothing(): void
    {
        $folder = dirname($this->data('android'));
        $before = Phones::fingerprint($folder);
        ChatSource::open($folder, new Formats(), true);
        self::assertSame($before, Phones::fingerprint($folder));
    }

    public function testAChatStoreOfALaterVersion(): void
    {
        Chats::store($this->path('later.sqlite'), static fn () => null)->close();
        $database = new \SQLite3($this->path('later.sqlite'));
        $database->exec('PRAGMA user_version = 4');
        $database->close();
        $this->assertRefused($this->path('later.sqlite'), '"known":"2, 3"');
    }

    private function assertRefused(string $path, string $because): void
    {
        try {
            ChatSource::open($path, new Formats(), true);
        } catch (UnusableInput $error) {
            self::assertStringContainsString($because, $error->getMessage());
            self::assertStringNotContainsString("\n", $error->getMessage());

            return;
        }
        self::fail('It was taken for chats.');
    }

    /** The database of a small phone, all of it in the main file. */
    private function data(string $platform): string
    {
        $phone = Phones::giving($this->path(), [], false);
        $android = $phone->data('otterpost');
        $checkpoint = new \SQLite3($android.'/pouch.db');
        $checkpoint->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $checkpoint->close();
        if ('android' === $platform) {
            return $android.'/pouch.db';
        }
        $source = ChatSource::open($android, new Formats(), true);
        Chats::format('ios')->writer()?->write(
            $source->chats, $source->files ?? throw new \LogicException(), $this->path('ios'), new NoProgress(),
        );
        $checkpoint = new \SQLite3($this->path('ios/Pouch.sqlite'));
        $checkpoint->exec('PRAGMA journal_mode = DELETE');
        $checkpoint->close();

        return $this->path('ios/Pouch.sqlite');
    }
}
