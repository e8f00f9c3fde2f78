<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\UnusableInput;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Backups;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\ProgressWithHands;
use Geschenk\Tests\Support\RecordedProgress;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What a backup tells while it goes on, and what it does when the phone changes under its hands. */
final class BackupMakerTest extends TestCase
{
    use Scratch;

    private const APP = 'otterpost';
    private PhoneFolder $phone;

    protected function setUp(): void
    {
        $this->phone = Phones::giving($this->path('phones'), [], false, 40);
        DemoMaker::rest($this->phone->data(self::APP));
    }

    public function testProgressComesToExactlyWhatWasTold(): void
    {
        $progress = new RecordedProgress();
        $this->make($progress);
        $attachments = $bytes = 0;
        foreach (Folder::files($this->phone->data(self::APP)) as $path) {
            if (!str_starts_with($path, 'pouch.')) {
                ++$attachments;
                $bytes += (int) filesize($this->phone->data(self::APP).'/'.$path);
            }
        }
        self::assertGreaterThan(5, $attachments);
        self::assertSame([0, 0, $attachments, 0], $progress->phases['listing']);
        self::assertSame([$attachments, $bytes, $attachments, $bytes], $progress->phases['pulling']);
        [$items, $packed, $itemsDone, $packedDone] = $progress->phases['packing'];
        self::assertSame([$items, $packed], [$itemsDone, $packedDone]);
        self::assertCount($items, iterator_to_array(Folder::files($this->path('bag'), 'data'), false));
        self::assertSame(['listing', 'pulling', 'reading', 'packing'], array_keys($progress->phases));
    }

    public function testAnInterruptedOneGoesOnFromWhatIsReallyThere(): void
    {
        $database = array_sum(array_map(filesize(...), glob($this->phone->data(self::APP).'/pouch.db*') ?: []));
        Phones::plan($this->phone, ['on' => 'pull', 'do' => 'unplug', 'after_bytes' => $database + 60_000]);
        try {
            $this->make(new NoProgress());
            self::fail('The cable was not pulled.');
        } catch (PhoneUnplugged) {
            Phones::plug($this->phone);
        }
        // As after a power cut, one of those that are noted as pulled has no bytes any more.
        $pulled = iterator_to_array(Folder::files($this->path('bag.part/data/raw/parcels')), false);
        self::assertGreaterThan(1, count($pulled));
        file_put_contents($this->path('bag.part/data/raw/parcels/'.$pulled[0]), '');
        // And a store of chats that was begun.
        file_put_contents($this->path('bag.part/data/chats.sqlite'), 'half');
        file_put_contents($this->path('bag.part/data/chats.sqlite.part'), 'half');
        $progress = new RecordedProgress();
        $this->make($progress);
        [$items, $bytes, $itemsDone, $bytesDone] = $progress->phases['pulling'];
        self::assertSame([$items, $bytes], [$itemsDone, $bytesDone]);
        foreach ($pulled as $path) {
            self::assertFileEquals(
                $this->phone->data(self::APP).'/parcels/'.$path, $this->path('bag/data/raw/parcels/'.$path),
            );
        }
        self::assertSame(
            [], [...(glob($this->path('bag/pull.sqlite*')) ?: []), ...(glob($this->path('bag/piece')) ?: [])],
        );
    }

    public function testItIsTakenAgainUntilNothingChangesAndNotForEver(): void
    {
        foreach ([4 => true, 5 => false] as $changes => $isTaken) {
            Folder::remove($this->path('bag'));
            Folder::remove($this->path('bag.part'));
            $left = $changes;
            $progress = new ProgressWithHands(function (string $phase, int $items) use (&$left, $changes): void {
                if ('pulling' === $phase && 0 === $items && $left-- > 0) {
                    file_put_contents($this->phone->data(self::APP)."/parcels/late-$changes-$left.txt", "late $left");
                    touch($this->phone->data(self::APP)."/parcels/late-$changes-$left.txt", time() - 500);
                }
            });
            try {
                $this->make($progress);
                self::assertTrue($isTaken);
                self::assertFileExists($this->path('bag/data/raw/parcels/late-4-0.txt'));
            } catch (PhoneRefuses $refusal) {
                self::assertFalse($isTaken, $refusal->getMessage());
                self::assertStringContainsString('still_writing', $refusal->getMessage());
                self::assertDirectoryDoesNotExist($this->path('bag'));
            }
            self::assertCount(5, array_keys($progress->phases, 'listing', true));
        }
    }

    public function testWhatIsDeletedMeanwhileIsNotMissed(): void
    {
        $paths = iterator_to_array(Folder::files($this->phone->data(self::APP), 'parcels'), false);
        $gone = $paths[count($paths) - 1];
        $progress = new ProgressWithHands(function (string $phase, int $items) use ($gone): void {
            if ('pulling' === $phase && $items > 0 && is_file($this->phone->data(self::APP).'/'.$gone)) {
                unlink($this->phone->data(self::APP).'/'.$gone);
            }
        });
        $this->make($progress);
        Bag::validate($this->path('bag'));
        self::assertFileDoesNotExist($this->path('bag/data/raw/'.$gone));
        $codes = array_column((new ChatStore($this->path('bag/data/chats.sqlite')))->findings(), 'code');
        self::assertNotContains('file_unreadable', $codes, 'It is gone, which is something else.');
        self::assertFileExists($this->path('bag/data/raw/'.$paths[0]));
    }

    public function testWhatThePhoneCanNotReadIsNamedAndNotKeptInPart(): void
    {
        $paths = iterator_to_array(Folder::files($this->phone->data(self::APP), 'parcels'), false);
        $bad = $paths[1];
        Phones::plan($this->phone, ['on' => 'read', 'do' => 'error', 'path' => $bad, 'after_bytes' => 10]);
        $this->make(new NoProgress());
        self::assertFileDoesNotExist($this->path('bag/data/raw/'.$bad));
        $chats = new ChatStore($this->path('bag/data/chats.sqlite'));
        $size = filesize($this->phone->data(self::APP).'/'.$bad);
        $findings = array_column(
            array_filter($chats->findings(), static fn (array $f): bool => 'file_unreadable' === $f['code']), 'example',
            'subject',
        );
        self::assertSame([$bad => "10 of $size bytes"], $findings);
        $presences = $hashes = [];
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $stored) {
                foreach ($stored->message->attachments as $attachment) {
                    $presences[$attachment->path] = $attachment->presence;
                    $hashes[$attachment->path] = $attachment->sha256;
                }
            }
        }
        self::assertSame([Presence::Unreadable, Presence::Present], [$presences[$bad], $presences[$paths[0]]]);
        $whole = $this->path('bag/data/raw/'.$paths[0]);
        self::assertSame([null, hash_file('sha256', $whole)], [$hashes[$bad], $hashes[$paths[0]]]);
    }

    /**
     * @return iterable<string, array{
     *     int, int|null,
     * }> how many files can't be read, and how many of them are only counted
     */
    public static function unreadable(): iterable
    {
        yield 'as many as are named' => [20, null];
        yield 'five more' => [25, 5];
    }

    #[DataProvider('unreadable')]
    public function testOfManyUnreadableFilesTwentyAreNamedAndTheRestCounted(int $files, ?int $counted): void
    {
        for ($n = 0; $n < $files; ++$n) {
            $path = $this->phone->data(self::APP)."/parcels/photo/more-$n.jpg";
            file_put_contents($path, str_repeat('x', 100));
            Phones::plan(
                $this->phone,
                ['on' => 'read', 'do' => 'error', 'path' => "parcels/photo/more-$n.jpg", 'after_bytes' => 1],
            );
        }
        DemoMaker::rest($this->phone->data(self::APP));
        $this->make(new NoProgress());
        $counts = array_column((new ChatStore($this->path('bag/data/chats.sqlite')))->findings(), 'count', 'subject');
        self::assertSame($counted, $counts['further files'] ?? null);
        self::assertCount(
            20, array_filter(array_keys($counts), static fn (string $s): bool => str_contains($s, '/more-')),
        );
    }

    /** What is packed is read back from the disk, and held against what came over the cable. */
    public function testWhatTurnsIntoSomethingElseOnOurDiskIsNoBackup(): void
    {
        $paths = iterator_to_array(Folder::files($this->phone->data(self::APP), 'parcels'), false);
        $progress = new ProgressWithHands(function (string $phase) use ($paths): void {
            if ('packing' === $phase) {
                file_put_contents($this->path('bag.part/data/raw/'.$paths[0]), 'something else');
            }
        });
        try {
            $this->make($progress);
            self::fail('It was believed.');
        } catch (UnusableInput $refused) {
            self::assertStringContainsString('"fault":"changed"', $refused->getMessage());
            self::assertDirectoryDoesNotExist($this->path('bag'));
        }
    }

    public function testOneThatIsThereAlreadyIsBelievedOnlyWhenItIsWhole(): void
    {
        $this->make(new NoProgress());
        $this->make(new NoProgress());
        file_put_contents($this->path('bag/data/chats.sqlite'), 'x', \FILE_APPEND);
        $this->expectException(UnusableInput::class);
        $this->make(new NoProgress());
    }

    private function make(Progress $progress): void
    {
        (new Backups())->overCable(Phones::link($this->phone), $this->path('bag'), $progress);
    }
}
