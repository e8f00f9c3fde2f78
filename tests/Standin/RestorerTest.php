<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\Demand;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\RelayedLink;
use Geschenk\Core\Phone\Sending;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\Transfer\StagedRestore;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\RecordedProgress;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What reaches the phone is what was rehearsed, whatever became of the folder since. */
final class RestorerTest extends TestCase
{
    use Scratch;

    private const APP = 'otterpost';
    private const FILES = ['a.txt' => 'hello', 'sub/b.txt' => 'everybody', 'sub/empty' => ''];
    private const BYTES = 14;

    private PhoneFolder $phone;
    private Manifest $manifest;

    protected function setUp(): void
    {
        $this->phone = Phones::receiving($this->path('phones'));
        foreach (self::FILES as $path => $text) {
            Folder::make(dirname($this->path('out/'.$path)));
            file_put_contents($this->path('out/'.$path), $text);
        }
        $this->manifest = $this->listed('out');
    }

    public function testItIsStagedVerifiedAndSwappedInAndThePhoneRestarts(): void
    {
        $progress = new RecordedProgress();
        $staged = $this->stage($progress);
        self::assertSame([self::APP, 'job'], [$staged->app, $staged->stage]);
        self::assertSame(
            ['staging' => [3, self::BYTES, 3, self::BYTES], 'verifying' => [3, 0, 3, 0]], $progress->phases,
        );
        Phones::plan($this->phone, ['on' => 'first_open', 'do' => 'lose_files', 'largest' => 0]);
        (new Restorer())->swapIn($this->permit(), $staged, $this->link(), $progress);
        self::assertSame(['staging', 'verifying', 'swapping'], array_keys($progress->phases));
        foreach (self::FILES as $path => $text) {
            self::assertSame($text, file_get_contents($this->phone->data(self::APP).'/'.$path));
        }
        self::assertSame([], $this->phone->state()['faults'], 'The messenger was opened.');
    }

    public function testWhatIsStagedAlreadyDoesNotGoOverTheCableAgain(): void
    {
        $this->stage(new NoProgress());
        $link = $this->link();
        $before = Phones::fingerprint($this->phone->path.'/incoming');
        // Would be seen if it were asked for.
        unlink($this->path('out/a.txt'));
        $progress = new RecordedProgress();
        (new Restorer())->stage(
            $this->permit(), new Staging($link, self::APP, 'job'), new FolderContents($this->path('out')),
            $this->manifest, $progress,
        );
        self::assertSame([3, self::BYTES, 3, self::BYTES], $progress->phases['staging']);
        self::assertSame($before, Phones::fingerprint($this->phone->path.'/incoming'));
    }

    public function testWhatThePhoneHoldsAlreadyDoesNotGoOverTheCable(): void
    {
        Folder::make($this->phone->data(self::APP).'/sub');
        file_put_contents($this->phone->data(self::APP).'/a.txt', 'hello');
        file_put_contents($this->phone->data(self::APP).'/sub/b.txt', 'everyb0dy');
        $link = new class(new FolderPhoneLink($this->phone)) extends RelayedLink {
            /** @var list<string> */
            public array $pushed = [];

            public function push(string $app, string $stage, string $path, Sending $sending): void
            {
                $this->pushed[] = $path;
                parent::push($app, $stage, $path, $sending);
            }
        };
        $progress = new RecordedProgress();
        $staged = (new Restorer())->stage(
            $this->permit(), new Staging($link, self::APP, 'job'), new FolderContents($this->path('out')),
            $this->manifest, $progress,
        );
        self::assertSame(['sub/b.txt', 'sub/empty'], $link->pushed);
        self::assertSame([3, self::BYTES, 3, self::BYTES], $progress->phases['staging']);
        (new Restorer())->swapIn($this->permit(), $staged, $link, $progress);
        foreach (self::FILES as $path => $text) {
            self::assertSame($text, file_get_contents($this->phone->data(self::APP).'/'.$path));
        }
    }

    /** @return iterable<string, array{callable(string): mixed}> what becomes of the folder after the rehearsal */
    public static function changes(): iterable
    {
        yield 'another letter' => [static fn (string $out) => file_put_contents($out.'/a.txt', 'hallo')];
        yield 'longer' => [static fn (string $out) => file_put_contents($out.'/a.txt', 'hello!')];
        yield 'gone' => [static fn (string $out) => unlink($out.'/a.txt')];
        yield 'a link to the same' => [
            static fn (string $out) => rename(
                $out.'/a.txt', dirname($out).'/a',
            ) && symlink(dirname($out).'/a', $out.'/a.txt'),
        ];
        yield 'a folder that is a link' => [
            static fn (string $out) => rename(
                $out.'/sub', dirname($out).'/sub',
            ) && symlink(dirname($out).'/sub', $out.'/sub'),
        ];
        yield 'a folder' => [static fn (string $out) => unlink($out.'/a.txt') && mkdir($out.'/a.txt')];
    }

    /** @param callable(string): mixed $change */
    #[DataProvider('changes')]
    public function testWhatIsNoLongerWhatWasRehearsedDoesNotReachThePhone(callable $change): void
    {
        $change($this->path('out'));
        $before = Phones::fingerprint($this->phone->data(self::APP));
        try {
            $this->stage(new NoProgress());
            self::fail('It was staged.');
        } catch (RestoreRefused $refused) {
            self::assertStringContainsString('changed_since_rehearsal', $refused->getMessage());
            self::assertSame($before, Phones::fingerprint($this->phone->data(self::APP)));
        }
    }

    public function testWhatCameIntoTheFolderSinceStaysThere(): void
    {
        file_put_contents($this->path('out/new.txt'), 'new');
        $this->stage(new NoProgress());
        self::assertNull($this->link()->stagedHash(self::APP, 'job', 'new.txt'));
    }

    public function testNothingRehearsedIsNothingToRestore(): void
    {
        mkdir($this->path('none'));
        $none = $this->listed('none');
        $restorer = new Restorer();
        $calls = [
            fn () => $restorer->stage(
                $this->permit(), $this->staging(), new FolderContents($this->path('none')), $none, new NoProgress(),
            ),
            fn () => $restorer->verify($this->staging(), $none, new NoProgress()),
        ];
        foreach ($calls as $call) {
            try {
                $call();
                self::fail('There was nothing.');
            } catch (RestoreRefused $refused) {
                self::assertStringContainsString('nothing_rehearsed', $refused->getMessage());
            }
        }
    }

    public function testASingleFileIsEnough(): void
    {
        file_put_contents(Folder::make($this->path('one')).'/a', 'a');
        $one = $this->listed('one');
        $staged = (new Restorer())->stage(
            $this->permit(), $this->staging(), new FolderContents($this->path('one')), $one, new NoProgress(),
        );
        self::assertSame(1, $staged->manifest->files);
    }

    /** @return iterable<string, array{callable(string): mixed, string}> what becomes of the stage, and what is said */
    public static function stageHarms(): iterable
    {
        yield 'another letter' => [
            static fn (string $stage) => file_put_contents($stage.'/sub/b.txt', 'everyb0dy'),
            'not_whole {"path":"sub/b.txt"}',
        ];
        yield 'gone' => [static fn (string $stage) => unlink($stage.'/a.txt'), 'not_whole {"path":"a.txt"}'];
        yield 'one more' => [
            static fn (string $stage) => file_put_contents($stage.'/more', 'x'), 'other_files {"found":4,"belong":3}',
        ];
    }

    /** @param callable(string): mixed $harm */
    #[DataProvider('stageHarms')]
    public function testWhatIsStagedIsHeldAgainstWhatWasRehearsed(callable $harm, string $because): void
    {
        $this->stage(new NoProgress());
        $harm($this->phone->stage(self::APP, 'job'));
        $this->expectException(RestoreRefused::class);
        $this->expectExceptionMessage($because);
        (new Restorer())->verify($this->staging(), $this->manifest, new NoProgress());
    }

    /** Only what is still to come needs room. */
    public function testThereMustBeRoomForWhatIsStillToComeAndNoMore(): void
    {
        $needed = Demand::withMargin(self::BYTES);
        $this->leave($needed - 1);
        try {
            $this->stage(new NoProgress());
            self::fail('There was no room.');
        } catch (PhoneRefuses $refusal) {
            self::assertStringContainsString('phone_full', $refusal->getMessage());
            self::assertDirectoryDoesNotExist($this->phone->path.'/incoming');
        }
        $this->leave($needed);
        $this->stage(new NoProgress());
        $this->leave(0);
        $this->stage(new NoProgress());
        $this->addToAssertionCount(1);
    }

    public function testThePermitMustBeOfWhatThePhoneHoldsNow(): void
    {
        $staged = $this->stage(new NoProgress());
        $permit = $this->permit();
        file_put_contents($this->phone->data(self::APP).'/since.txt', 'a message that came since');
        try {
            (new Restorer())->swapIn($permit, $staged, $this->link(), new NoProgress());
            self::fail('What came since was wiped.');
        } catch (PhoneRefuses) {
            self::assertFileExists($this->phone->data(self::APP).'/since.txt');
        }
        (new Restorer())->swapIn($this->permit(), $staged, $this->link(), new NoProgress());
        self::assertFileDoesNotExist($this->phone->data(self::APP).'/since.txt');
    }

    private function stage(Progress $progress): StagedRestore
    {
        return (new Restorer())->stage(
            $this->permit(), $this->staging(), new FolderContents($this->path('out')),
            $this->manifest, $progress,
        );
    }

    /** Fills the phone up to so many bytes. */
    private function leave(int $bytes): void
    {
        $this->phone->change(
            fn (array $s): array => ['storage_other' => $s['storage_total'] - $this->phone->used() - $bytes] + $s,
        );
    }

    private function staging(): Staging
    {
        return new Staging($this->link(), self::APP, 'job');
    }

    private function link(): PhoneLink
    {
        return Phones::link($this->phone);
    }

    private function permit(): RestorePermit
    {
        $all = new Totals(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0);

        return RestorePermit::grant(
            new ReceiverSeen($this->link()->mark(self::APP)), new AgreedTo('T', 'T'), $all,
        );
    }

    private function listed(string $folder): Manifest
    {
        return Manifest::make(
            new FolderContents($this->path($folder)), $this->path('manifest-'.$folder), static fn (int $bytes) => null,
        );
    }
}
