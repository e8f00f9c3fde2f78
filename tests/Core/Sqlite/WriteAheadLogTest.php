<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Sqlite;

use Geschenk\Core\Sqlite\LogReading;
use Geschenk\Core\Sqlite\WriteAheadLog;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class WriteAheadLogTest extends TestCase
{
    use Scratch;

    private const FRAME = 4096 + 24;

    public function testApplyingALogGivesWhatSqliteReads(): void
    {
        $this->make();
        self::assertEquals(new LogReading(), $this->apply());
        unlink($this->path('log.db-wal'));
        $database = new \SQLite3($this->path('log.db'));
        self::assertSame('ok', $database->querySingle('PRAGMA integrity_check'));
        self::assertSame(
            [41, 40],
            [
                $database->querySingle('SELECT COUNT(*) FROM note'),
                $database->querySingle('SELECT MAX(round) FROM note'),
            ],
        );
    }

    public function testATransactionThatWasNotFinishedIsNotApplied(): void
    {
        $this->make();
        $log = (string) file_get_contents($this->path('log.db-wal'));
        // The last frame ends a transaction; without it that transaction never was, which here can't be seen.
        file_put_contents($this->path('log.db-wal'), substr($log, 0, strlen($log) - self::FRAME));
        self::assertEquals(new LogReading(), $this->apply());
        // Cut within a frame it can.
        copy($this->path('made.db'), $this->path('log.db'));
        file_put_contents($this->path('log.db-wal'), substr($log, 0, strlen($log) - 5));
        self::assertEquals(new LogReading(isOpen: true), $this->apply());
        unlink($this->path('log.db-wal'));
        self::assertSame(39, (new \SQLite3($this->path('log.db')))->querySingle('SELECT MAX(round) FROM note'));
    }

    public function testAfterABrokenFrameTheNextOnesAreStillBelieved(): void
    {
        $this->make();
        $log = (string) file_get_contents($this->path('log.db-wal'));
        $at = 32 + 5 * self::FRAME + 24 + 200;
        file_put_contents($this->path('log.db-wal'), substr_replace($log, '!', $at, 1));
        $read = $this->apply();
        self::assertSame([1, false], [$read->unreadable, $read->isOpen]);
        self::assertGreaterThan(30, $read->mended);
        unlink($this->path('log.db-wal'));
        // The page was written again later, so nothing of it is lost.
        self::assertSame(40, (new \SQLite3($this->path('log.db')))->querySingle('SELECT MAX(round) FROM note'));
    }

    public function testALogOfAnotherLifeIsLeftAlone(): void
    {
        $this->make();
        $before = sha1_file($this->path('log.db'));
        file_put_contents($this->path('log.db-wal'), random_bytes(20_000));
        self::assertGreaterThan(0, $this->apply()->unreadable);
        self::assertSame($before, sha1_file($this->path('log.db')));
        unlink($this->path('log.db-wal'));
        self::assertEquals(new LogReading(), $this->apply());
    }

    private function apply(): LogReading
    {
        return WriteAheadLog::apply($this->path('log.db-wal'), $this->path('log.db'), 4096);
    }

    /** A database with one row in it and forty transactions of one row each in its log. */
    private function make(): void
    {
        $path = $this->path('made.db');
        $database = new \SQLite3($path);
        $database->exec(
            'PRAGMA page_size = 4096; PRAGMA journal_mode = WAL; CREATE TABLE note (round INTEGER); '
                .'INSERT INTO note VALUES (0); PRAGMA wal_checkpoint(TRUNCATE); PRAGMA wal_autocheckpoint = 0',
        );
        for ($round = 1; $round <= 40; ++$round) {
            $database->exec("INSERT INTO note VALUES ($round)");
        }
        copy($path, $this->path('log.db'));
        copy($path.'-wal', $this->path('log.db-wal'));
        $database->close();
    }
}
