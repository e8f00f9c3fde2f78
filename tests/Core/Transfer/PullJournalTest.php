<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Transfer;

use Geschenk\Core\Transfer\PullJournal;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What makes an interrupted pull go on: only what is whole and unchanged counts as done. */
final class PullJournalTest extends TestCase
{
    use Scratch;

    public function testItRemembersWhatIsDone(): void
    {
        $journal = $this->journal();
        $journal->pulled('a', 10, 'hash-a');
        $journal->close();
        $again = new PullJournal($this->path('pull.sqlite'));
        self::assertSame(['items' => 3, 'bytes' => 60, 'items_done' => 1, 'bytes_done' => 10], $again->totals());
        self::assertSame(['b', 'c'], array_column($again->waiting(), 'path'));
        self::assertSame(['b'], array_column($again->waiting(1), 'path'));
        self::assertSame(['hash-a', null, null], array_map($again->hash(...), ['a', 'b', 'unheard-of']));
    }

    public function testAFileThatChangedIsPulledAgainAndOneThatDidNotIsNot(): void
    {
        $journal = $this->journal();
        foreach (['a', 'b', 'c'] as $path) {
            $journal->pulled($path, ['a' => 10, 'b' => 20, 'c' => 30][$path], 'hash-'.$path);
        }
        $journal->listed('a', 10, 'mark');
        $journal->listed('b', 21, 'mark');
        $journal->listed('c', 30, 'another mark');
        self::assertSame(['b', 'c'], array_column($journal->waiting(), 'path'));
        self::assertSame('hash-a', $journal->hash('a'));
        self::assertNull($journal->hash('b'));
    }

    public function testAFileThatIsGoneIsForgotten(): void
    {
        $journal = $this->journal();
        $journal->forget('b');
        self::assertSame(2, $journal->totals()['items']);
        self::assertSame(['a', 'c'], array_column($journal->waiting(), 'path'));
    }

    public function testItBelievesOnlyWhatIsThere(): void
    {
        $journal = $this->journal();
        foreach (['a' => 10, 'b' => 20, 'c' => 30] as $path => $bytes) {
            file_put_contents($this->path($path), str_repeat('x', $bytes));
            $journal->pulled($path, $bytes, hash('sha256', str_repeat('x', $bytes)));
        }
        // As after a power cut: one file has no bytes, one has others.
        file_put_contents($this->path('a'), '');
        file_put_contents($this->path('b'), str_repeat('y', 20));
        $journal->believeOnlyWhatIsIn($this->path());
        self::assertSame(['a', 'b'], array_column($journal->waiting(), 'path'));
        // Somebody put a link in the place of the last one.
        rename($this->path('c'), $this->path('elsewhere'));
        symlink($this->path('elsewhere'), $this->path('c'));
        $journal->believeOnlyWhatIsIn($this->path());
        self::assertSame(['a', 'b', 'c'], array_column($journal->waiting(), 'path'));
    }

    public function testWhatThePhoneCanNotReadIsKeptApart(): void
    {
        $journal = $this->journal();
        $journal->unreadable('b', 7);
        self::assertSame(['a', 'c'], array_column($journal->waiting(), 'path'));
        self::assertTrue($journal->isUnreadable('b'));
        self::assertSame([['path' => 'b', 'bytes' => 20, 'readable' => 7]], $journal->allUnreadable());
        // Listed anew it is tried anew.
        $journal->listed('b', 20, 'mark');
        self::assertFalse($journal->isUnreadable('b'));
    }

    public function testNamesMayBeAnything(): void
    {
        $journal = new PullJournal($this->path('odd.sqlite'));
        foreach (["quote'", 'semi;colon', "new\nline", 'ünï/cödé'] as $path) {
            $journal->listed($path, 1, 'm');
            $journal->pulled($path, 1, $path);
            self::assertSame($path, $journal->hash($path));
        }
        self::assertSame([], $journal->waiting());
    }

    public function testWhatWaitsIsGivenInPortions(): void
    {
        $journal = new PullJournal($this->path('many.sqlite'));
        for ($n = 100; $n < 203; ++$n) {
            $journal->listed("file $n", 1, 'm');
        }
        self::assertCount(100, $journal->waiting());
        self::assertSame(['file 100', 'file 101'], array_column($journal->waiting(2), 'path'));
    }

    private function journal(): PullJournal
    {
        $journal = new PullJournal($this->path('pull.sqlite'));
        $journal->begin();
        $journal->listed('a', 10, 'mark');
        $journal->listed('b', 20, 'mark');
        $journal->listed('c', 30, 'mark');
        $journal->commit();

        return $journal;
    }
}
