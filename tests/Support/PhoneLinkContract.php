<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Phone\FileUnreadable;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Sending;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * What core relies on of whatever stands behind the port to a phone. Each adapter has a test that extends this one and
 * says how its phone is made ready; APP is an app on that phone.
 */
abstract class PhoneLinkContract extends TestCase
{
    protected const APP = 'otterpost';
    private const KILLS = 24;

    /** @var list<resource> */
    private array $others = [];

    /**
     * Makes a phone that is plugged in, open, and whose app holds these files and no others.
     *
     * @param array<string, string> $files content by path
     */
    abstract protected function prepare(array $files): void;

    /** A link of its own to that phone, as another run would open it. */
    abstract protected function link(): PhoneLink;

    /** PHP that gives a link to that phone in another process, where Composer's loader is already there. */
    abstract protected function linkElsewhere(): string;

    /** What the messenger itself sees under a path; null where there is nothing. */
    abstract protected function seen(string $path): ?string;

    /** The messenger writes a file; null deletes it. */
    abstract protected function messengerWrites(string $path, ?string $text): void;

    /** Puts a link into the app's folder that leads elsewhere. */
    abstract protected function layLink(string $path, string $target): void;

    /** From now on the phone's storage gives no more of this file than so many bytes. */
    abstract protected function spoilStorage(string $path, int $bytes): void;

    abstract protected function unplug(): void;

    protected function tearDown(): void
    {
        foreach ($this->others as $process) {
            proc_terminate($process, \SIGKILL);
            proc_close($process);
        }
        $this->others = [];
    }

    // Taking

    public function testFilesAreListedAndPulledAndHashedInOnePass(): void
    {
        $this->prepare(['note.txt' => 'hello', 'sub/deep/x.bin' => str_repeat('x', 200_000), 'empty' => '']);
        $listed = [];
        foreach ($this->link()->files(self::APP) as $file) {
            $listed[$file->path] = $file->bytes;
        }
        ksort($listed, \SORT_STRING);
        self::assertSame(['empty' => 0, 'note.txt' => 5, 'sub/deep/x.bin' => 200_000], $listed);
        $steps = [];
        $sink = self::stream();
        $pulled = $this->link()->pull(self::APP, 'sub/deep/x.bin', $sink, static function (int $n) use (&$steps): void {
            $steps[] = $n;
        });
        self::assertSame(['bytes' => 200_000, 'sha256' => hash('sha256', str_repeat('x', 200_000))], $pulled);
        self::assertSame(str_repeat('x', 200_000), self::textOf($sink));
        self::assertSame(200_000, array_sum($steps));
        self::assertGreaterThan(1, count($steps));
        self::assertSame(0, $this->link()->pull(self::APP, 'empty', self::stream(), self::unheard(...))['bytes']);
    }

    /** @return iterable<string, array{string}> */
    public static function outside(): iterable
    {
        $paths = [
            '../../phone.json', '/etc/hostname', 'sub/../../../phone.json', 'link', 'linked/hostname', '', '.',
            "note.txt\0", 'sub',
        ];
        foreach ($paths as $path) {
            yield json_encode($path, \JSON_THROW_ON_ERROR) => [$path];
        }
    }

    #[DataProvider('outside')]
    public function testNoPathLeadsOutOfTheAppAndNoLinkIsFollowed(string $path): void
    {
        $this->prepare(['note.txt' => 'hello', 'sub/more.txt' => 'more']);
        $this->layLink('link', '/etc/hostname');
        $this->layLink('linked', '/etc');
        $listed = array_map(static fn (PhoneFile $f): string => $f->path, [...$this->link()->files(self::APP)]);
        sort($listed, \SORT_STRING);
        self::assertSame(['note.txt', 'sub/more.txt'], $listed);
        self::assertNull($this->link()->file(self::APP, $path));
        $this->expectException(PhoneRefuses::class);
        $this->link()->pull(self::APP, $path, self::stream(), self::unheard(...));
    }

    public function testAnAppIsNamedByItsIdAlone(): void
    {
        $this->prepare(['note.txt' => 'hello']);
        foreach (['../data/'.self::APP, '', '.', 'no-such-app', self::APP."\n"] as $app) {
            try {
                $this->link()->file($app, 'note.txt');
                self::fail($app);
            } catch (PhoneRefuses) {
                $this->addToAssertionCount(1);
            }
        }
    }

    /** @return iterable<string, array{string|null}> what the messenger makes of the file while it is pulled */
    public static function changes(): iterable
    {
        yield 'shorter' => [str_repeat('s', 70_000)];
        yield 'longer' => [str_repeat('l', 500_000)];
        yield 'as long' => [str_repeat('o', 300_000)];
        yield 'empty' => [''];
        yield 'gone' => [null];
    }

    /**
     * What is told of the bytes that came is true of these bytes, and who looks again sees that the file is another.
     */
    #[DataProvider('changes')]
    public function testAFileThatChangesWhileItIsPulledIsKnownByThat(?string $text): void
    {
        $this->prepare(['film.bin' => str_repeat('x', 300_000)]);
        $link = $this->link();
        $listed = $link->file(self::APP, 'film.bin');
        $sink = self::stream();
        $isFirst = true;
        $pulled = null;
        try {
            $pulled = $link->pull(self::APP, 'film.bin', $sink, function () use (&$isFirst, $text): void {
                if ($isFirst) {
                    $isFirst = false;
                    $this->messengerWrites('film.bin', $text);
                }
            });
        } catch (PhoneRefuses|FileUnreadable) {
            // It may say so at once.
        }
        if (null !== $pulled) {
            $came = self::textOf($sink);
            self::assertSame(['bytes' => strlen($came), 'sha256' => hash('sha256', $came)], $pulled);
        }
        $again = $link->file(self::APP, 'film.bin');
        self::assertNotSame([$listed?->bytes, $listed?->changed], [$again?->bytes, $again?->changed]);
        self::assertSame(null === $text ? null : strlen($text), $again?->bytes);
    }

    public function testWhatThePhoneCanNotReadIsNeverTheEndOfTheFile(): void
    {
        foreach ([0, 1, 65_536, 100_000, 199_999] as $bytes) {
            $this->prepare(['film.bin' => str_repeat('x', 200_000)]);
            $this->spoilStorage('film.bin', $bytes);
            $sink = self::stream();
            try {
                $this->link()->pull(self::APP, 'film.bin', $sink, self::unheard(...));
                self::fail("after $bytes");
            } catch (FileUnreadable $error) {
                self::assertSame(['path' => 'film.bin', 'bytes' => $bytes, 'listed' => 200_000], $error->fields);
                self::assertSame(str_repeat('x', $bytes), self::textOf($sink));
            }
            // It is there all the same.
            self::assertSame(200_000, $this->link()->file(self::APP, 'film.bin')?->bytes);
        }
    }

    public function testAPullGoesOnBehindWhatCameBefore(): void
    {
        $text = implode('', array_map(static fn (int $n): string => "line $n\n", range(1, 30_000)));
        $this->prepare(['film.bin' => $text]);
        foreach ([1, 65_536, 100_001, strlen($text) - 1, strlen($text)] as $from) {
            $sink = self::stream();
            $pulled = $this->link()->pull(self::APP, 'film.bin', $sink, self::unheard(...), $from);
            $rest = substr($text, $from);
            self::assertSame(['bytes' => strlen($rest), 'sha256' => hash('sha256', $rest)], $pulled);
            self::assertSame($rest, self::textOf($sink));
        }
        $this->spoilStorage('film.bin', 150_000);
        try {
            $this->link()->pull(self::APP, 'film.bin', self::stream(), self::unheard(...), 100_001);
            self::fail('It can be read no further.');
        } catch (FileUnreadable $error) {
            self::assertSame(150_000, $error->fields['bytes']);
        }
    }

    public function testAFileThatIsGoneIsRefused(): void
    {
        $this->prepare(['note.txt' => 'hello']);
        $this->messengerWrites('note.txt', null);
        $this->expectException(PhoneRefuses::class);
        $this->link()->pull(self::APP, 'note.txt', self::stream(), self::unheard(...));
    }

    public function testTheMarkTellsEveryChangeAndNoLook(): void
    {
        $this->prepare(['note.txt' => 'hello', 'sub/more.txt' => 'more']);
        $marks = [$this->link()->mark(self::APP)];
        $link = $this->link();
        [...$link->files(self::APP)];
        $link->file(self::APP, 'note.txt');
        $link->pull(self::APP, 'note.txt', self::stream(), self::unheard(...));
        $link->state();
        $link->swapped(self::APP);
        $link->push(self::APP, 'job', 'new.txt', new Sending(self::stream('new')));
        self::assertSame($marks[0], $link->mark(self::APP));
        foreach ([
            ['note.txt', 'HELLO'], ['sub/new.txt', ''], ['sub/more.txt', null], ['note.txt', 'HELLO!'],
        ] as [$path, $text]) {
            $this->messengerWrites($path, $text);
            $marks[] = $this->link()->mark(self::APP);
        }
        self::assertSame($marks, array_values(array_unique($marks)));
    }

    public function testAnUnpluggedPhoneShowsNothingAndSaysWhy(): void
    {
        $this->prepare(['note.txt' => 'hello']);
        $link = $this->link();
        $link->push(self::APP, 'job', 'new.txt', new Sending(self::stream('new')));
        $mark = $link->mark(self::APP);
        $this->unplug();
        $state = $link->state();
        self::assertSame([false, null, null, null], [$state->plugged, $state->battery, $state->free, $state->apps]);
        $calls = [
            'files' => static fn () => [
                ...$link->files(self::APP),
            ], 'file' => static fn () => $link->file(self::APP, 'note.txt'),
            'pull' => static fn () => $link->pull(self::APP, 'note.txt', self::stream(), self::unheard(...)),
            'push' => static fn () => $link->push(self::APP, 'job', 'x', new Sending(self::stream('x'))),
            'staged' => static fn () => [...$link->staged(self::APP, 'job')],
            'stagedHash' => static fn () => $link->stagedHash(self::APP, 'job', 'new.txt'),
            'mark' => static fn () => $link->mark(self::APP), 'swap' => static fn () => $link->swap(
                self::APP, 'job', $mark,
            ),
            'swapped' => static fn () => $link->swapped(self::APP),
            'dropStage' => static fn () => $link->dropStage(self::APP, 'job'),
            'beginning' => static fn () => $link->beginning(self::APP, 'job', 'new.txt'),
            'restart' => static fn () => $link->restart(),
        ];
        foreach ($calls as $name => $call) {
            try {
                $call();
                self::fail("$name was answered by a phone that is not there");
            } catch (PhoneUnplugged) {
                $this->addToAssertionCount(1);
            }
        }
        self::assertSame('hello', $this->seen('note.txt'));
    }

    // Giving

    public function testWhatIsPushedIsStagedUnseenByTheMessengerAndSwappedInAsAWhole(): void
    {
        $this->prepare(['old.txt' => 'old', 'sub/old.txt' => 'old']);
        $link = $this->link();
        foreach (['new.txt' => 'new', 'sub/more.txt' => 'more', 'empty' => ''] as $path => $text) {
            $link->push(self::APP, 'job', $path, new Sending(self::stream($text)));
        }
        self::assertSame('old', $this->seen('old.txt'));
        self::assertNull($this->seen('new.txt'));
        self::assertSame(['empty' => 0, 'new.txt' => 3, 'sub/more.txt' => 4], self::staged($link, 'job'));
        self::assertSame(hash('sha256', 'more'), $link->stagedHash(self::APP, 'job', 'sub/more.txt'));
        foreach (['sub/none.txt', '../../../phone.json', 'sub', ''] as $path) {
            self::assertNull($link->stagedHash(self::APP, 'job', $path));
        }
        self::assertNull($link->swapped(self::APP));
        $link->swap(self::APP, 'job', $link->mark(self::APP));
        self::assertSame('job', $this->link()->swapped(self::APP));
        foreach ([
            'new.txt' => 'new', 'sub/more.txt' => 'more', 'empty' => '', 'old.txt' => null, 'sub/old.txt' => null,
        ] as $path => $text) {
            self::assertSame($text, $this->seen($path));
        }
    }

    /** The note of a killed run asks for it once more; by then the messenger may have written. */
    public function testASwapThatIsAskedForAgainDoesNothing(): void
    {
        $this->prepare(['old.txt' => 'old']);
        $link = $this->link();
        $link->push(self::APP, 'job', 'new.txt', new Sending(self::stream('new')));
        $link->swap(self::APP, 'job', $link->mark(self::APP));
        $this->messengerWrites('since.txt', 'a message that came since');
        $this->link()->swap(self::APP, 'job', 'whatever it was');
        self::assertSame(['new', 'a message that came since'], [$this->seen('new.txt'), $this->seen('since.txt')]);
    }

    public function testNothingIsReplacedThatNobodyLookedAt(): void
    {
        foreach (['old.txt' => 'written since', 'came.txt' => 'came since'] as $path => $text) {
            $this->prepare(['old.txt' => 'old']);
            $link = $this->link();
            $link->push(self::APP, 'job', 'new.txt', new Sending(self::stream('new')));
            $mark = $link->mark(self::APP);
            $this->messengerWrites($path, $text);
            try {
                $link->swap(self::APP, 'job', $mark);
                self::fail($path);
            } catch (PhoneRefuses) {
                self::assertSame([$text, null], [$this->seen($path), $this->seen('new.txt')]);
            }
            // What was brought is still there for the next try.
            self::assertSame(['new.txt' => 3], self::staged($link, 'job'));
        }
    }

    public function testAPushThatWasInterruptedGoesOnFromItsBeginning(): void
    {
        $this->prepare(['old.txt' => 'old']);
        $text = implode('', array_map(static fn (int $n): string => "line $n\n", range(1, 30_000)));
        $interrupt = function (string $stage) use ($text): int {
            $sent = 0;
            try {
                $this->link()->push(
                    self::APP, $stage, 'sub/film.bin',
                    new Sending(self::stream($text), static function (int $bytes) use (&$sent): void {
                        $sent += $bytes;
                        if ($sent > 130_000) {
                            throw new \RuntimeException('The cable is out.');
                        }
                    }),
                );
                self::fail('It was interrupted.');
            } catch (\RuntimeException $error) {
                self::assertSame('The cable is out.', $error->getMessage());
            }

            return $this->link()->beginning(self::APP, $stage, 'sub/film.bin');
        };
        self::assertSame(0, $this->link()->beginning(self::APP, 'job', 'sub/film.bin'));
        $there = $interrupt('job');
        self::assertGreaterThan(100_000, $there);
        self::assertSame([], self::staged($this->link(), 'job'), 'Half a file is none.');
        self::assertNull($this->link()->stagedHash(self::APP, 'job', 'sub/film.bin'));
        self::assertSame(0, $this->link()->beginning(self::APP, 'another job', 'sub/film.bin'));
        try {
            $this->link()->push(
                self::APP, 'job', 'sub/film.bin', new Sending(self::stream('x'), self::unheard(...), $there + 1),
            );
            self::fail('There is a hole between.');
        } catch (\InvalidArgumentException) {
            self::assertSame($there, $this->link()->beginning(self::APP, 'job', 'sub/film.bin'));
        }
        // From somewhat before is well too: whoever sends may know less of it for certain.
        $rest = self::stream(substr($text, $there - 7));
        $this->link()->push(self::APP, 'job', 'sub/film.bin', new Sending($rest, self::unheard(...), $there - 7));
        self::assertSame(hash('sha256', $text), $this->link()->stagedHash(self::APP, 'job', 'sub/film.bin'));
        self::assertSame(0, $this->link()->beginning(self::APP, 'job', 'sub/film.bin'));
        self::assertGreaterThan(0, $interrupt('dropped'));
        $this->link()->dropStage(self::APP, 'dropped');
        self::assertSame(0, $this->link()->beginning(self::APP, 'dropped', 'sub/film.bin'));
        self::assertSame(['sub/film.bin' => strlen($text)], self::staged($this->link(), 'job'));
    }

    public function testWhatThePhoneHoldsIsTakenOverWhereItIsTheVeryContentAndElseNotAtAll(): void
    {
        $this->prepare(['media/a.jpg' => 'picture', 'worn.jpg' => 'unreadable', 'empty' => '']);
        $this->spoilStorage('worn.jpg', 3);
        $this->layLink('link.jpg', '/etc/hostname');
        $link = $this->link();
        $hash = static fn (string $text): string => hash('sha256', $text);
        self::assertTrue($link->takeOver(self::APP, 'job', 'media/a.jpg', $hash('picture')));
        self::assertTrue($link->takeOver(self::APP, 'job', 'empty', $hash('')));
        self::assertSame($hash('picture'), $link->stagedHash(self::APP, 'job', 'media/a.jpg'));
        foreach ([
            'media/a.jpg' => $hash('pictures'), 'worn.jpg' => $hash('unreadable'), 'gone.jpg' => $hash(''),
            'link.jpg' => $hash((string) @file_get_contents('/etc/hostname')), '../phone.json' => $hash('x'),
            'media' => $hash(''),
        ] as $path => $sha256) {
            self::assertFalse($link->takeOver(self::APP, 'other', $path, $sha256), $path);
        }
        self::assertSame([], iterator_to_array($link->staged(self::APP, 'other'), false));
        // What the messenger writes from then on is its own.
        $this->messengerWrites('media/a.jpg', 'another');
        self::assertSame($hash('picture'), $link->stagedHash(self::APP, 'job', 'media/a.jpg'));
        $link->swap(self::APP, 'job', $link->mark(self::APP));
        self::assertSame(['picture', ''], [$this->seen('media/a.jpg'), $this->seen('empty')]);
    }

    public function testAStageThatIsDroppedOrWasNeverBegunLeavesThePhoneAsItWas(): void
    {
        $this->prepare(['old.txt' => 'old']);
        $link = $this->link();
        $link->push(self::APP, 'job', 'new.txt', new Sending(self::stream('new')));
        $link->dropStage(self::APP, 'job');
        $link->dropStage(self::APP, 'never');
        self::assertSame([], self::staged($link, 'job'));
        foreach (['job', 'never'] as $stage) {
            try {
                $link->swap(self::APP, $stage, $link->mark(self::APP));
                self::fail('There was nothing to put in place.');
            } catch (PhoneRefuses) {
                self::assertSame([null, 'old'], [$link->swapped(self::APP), $this->seen('old.txt')]);
            }
        }
    }

    public function testNothingIsPushedOutOfTheStage(): void
    {
        $this->prepare(['old.txt' => 'old']);
        foreach (['../escape.txt', '/tmp/escape.txt', 'a/../../escape.txt', ''] as $path) {
            try {
                $this->link()->push(self::APP, 'job', $path, new Sending(self::stream('x')));
                self::fail($path);
            } catch (\InvalidArgumentException|PhoneRefuses) {
                self::assertSame([], self::staged($this->link(), 'job'));
            }
        }
    }

    public function testASourceThatBreaksOffLeavesNoHalfFileInTheStage(): void
    {
        $this->prepare(['old.txt' => 'old']);
        $link = $this->link();
        $link->push(self::APP, 'job', 'film.bin', new Sending(self::stream('whole')));
        try {
            $link->push(
                self::APP, 'job', 'film.bin', new Sending(
                    self::stream(str_repeat('x', 300_000)),
                    static fn () => throw new \RuntimeException('The cable.'),
                ),
            );
            self::fail('The error was swallowed.');
        } catch (\RuntimeException $error) {
            self::assertSame('The cable.', $error->getMessage());
        }
        self::assertSame(hash('sha256', 'whole'), $link->stagedHash(self::APP, 'job', 'film.bin'));
        self::assertSame(['film.bin' => 5], self::staged($link, 'job'));
    }

    public function testTwoStagesAreApart(): void
    {
        $this->prepare(['old.txt' => 'old']);
        $link = $this->link();
        $link->push(self::APP, 'one', 'a.txt', new Sending(self::stream('one')));
        $link->push(self::APP, 'two', 'a.txt', new Sending(self::stream('second')));
        $link->swap(self::APP, 'one', $link->mark(self::APP));
        self::assertSame(['one', 'one'], [$this->seen('a.txt'), $link->swapped(self::APP)]);
        self::assertSame(['a.txt' => 6], self::staged($link, 'two'));
        $link->swap(self::APP, 'two', $link->mark(self::APP));
        self::assertSame(['second', 'two'], [$this->seen('a.txt'), $link->swapped(self::APP)]);
    }

    public function testFreeSpaceCountsWhatIsStaged(): void
    {
        $this->prepare(['note.txt' => 'hello']);
        $before = $this->link()->state()->free;
        $this->link()->push(self::APP, 'job', 'new.bin', new Sending(self::stream(str_repeat('x', 100_000))));
        self::assertGreaterThanOrEqual(100_000, (int) $before - (int) $this->link()->state()->free);
    }

    // Killed, and beside each other

    /** What is complete in the stage of a killed run is complete, and the next one goes on with it. */
    public function testAStageGoesOnAfterAKill(): void
    {
        $this->prepare(['old.txt' => 'old']);
        $process = $this->elsewhere(<<<'PHP'
            foreach (['a.bin', 'b.bin', 'c.bin'] as $n => $path) {
                $source = fopen('php://memory', 'w+');
                fwrite($source, str_repeat('x', 200_000));
                rewind($source);
                $dying = static fn () => 2 === $n ? posix_kill(getmypid(), SIGKILL) : null;
                $link->push(APP, 'job', $path, new Geschenk\Core\Phone\Sending($source, $dying));
            }
            PHP);
        self::assertSame(\SIGKILL, self::ended($process));
        $link = $this->link();
        self::assertSame(['a.bin' => 200_000, 'b.bin' => 200_000], self::staged($link, 'job'));
        self::assertSame(hash('sha256', str_repeat('x', 200_000)), $link->stagedHash(self::APP, 'job', 'b.bin'));
        self::assertNull($link->stagedHash(self::APP, 'job', 'c.bin'));
        $free = $link->state()->free;
        $link->push(self::APP, 'job', 'c.bin', new Sending(self::stream(str_repeat('x', 200_000))));
        // The piece that the kill left takes no room beside it.
        self::assertGreaterThanOrEqual((int) $free - 200_000, $link->state()->free);
        $link->swap(self::APP, 'job', $link->mark(self::APP));
        self::assertSame(200_000, strlen((string) $this->seen('c.bin')));
        self::assertNull($this->seen('old.txt'));
    }

    /** Wherever a swap is killed: all of the old or all of the new, whoever looks; and it goes on. */
    public function testASwapThatIsKilledIsWhollyDoneOrNotAtAll(): void
    {
        $done = [];
        // Microseconds that a whole one takes; the first, which nobody kills, tells.
        $takes = null;
        for ($kill = 0; $kill <= self::KILLS; ++$kill) {
            $this->prepare(self::set('old'));
            $link = $this->link();
            foreach (self::set('new') as $path => $text) {
                $link->push(self::APP, "job-$kill", $path, new Sending(self::stream($text)));
            }
            $process = $this->elsewhere("echo '.'; \$link->swap(APP, 'job-$kill', \$link->mark(APP)); echo '.';");
            self::awaitByte($process);
            $begun = hrtime(true);
            if (null === $takes) {
                self::awaitByte($process);
                $takes = intdiv(hrtime(true) - $begun, 1_000);
            } else {
                usleep((int) ($takes * $kill / self::KILLS));
                proc_terminate($process['process'], \SIGKILL);
            }
            self::ended($process);
            $which = $this->seen('a.txt') ?? self::fail('The data is gone.');
            self::assertWhole($which, $this->seen(...), "kill $kill");
            $link = $this->link();
            self::assertSame('new' === $which, "job-$kill" === $link->swapped(self::APP), "kill $kill");
            $link->swap(self::APP, "job-$kill", $link->mark(self::APP));
            self::assertWhole('new', $this->seen(...), "kill $kill");
            $done[$which] = true;
        }
        self::assertArrayHasKey('new', $done);
    }

    /** Two who look all the while see one set of files or the other, and put nothing in place themselves. */
    public function testASwapUnderTwoLookersIsNotTheirs(): void
    {
        $this->prepare(self::set('old'));
        $lookers = [];
        for ($n = 0; $n < 2; ++$n) {
            $lookers[] = $this->elsewhere(<<<'PHP'
                echo '.';
                $seen = [];
                while (!feof(STDIN)) {
                    $link = LINK;
                    try {
                        $file = $link->file(APP, 'a.txt');
                        $sink = fopen('php://memory', 'w+');
                        $link->pull(APP, 'a.txt', $sink, static fn () => null);
                        rewind($sink);
                        $seen[stream_get_contents($sink)] = true;
                        foreach ($link->files(APP) as $file) {
                        }
                        $link->mark(APP);
                        $link->swapped(APP);
                        $link->state();
                    } catch (Geschenk\Core\Phone\PhoneRefuses|Geschenk\Core\Phone\FileUnreadable) {
                        $seen['refused'] = true;
                    }
                    stream_set_blocking(STDIN, false);
                    fread(STDIN, 1);
                }
                echo json_encode(array_keys($seen));
                PHP);
        }
        foreach ($lookers as $looker) {
            self::awaitByte($looker);
        }
        $link = $this->link();
        foreach (['new', 'old', 'new', 'old', 'new', 'old'] as $n => $which) {
            foreach (self::set($which) as $path => $text) {
                $link->push(self::APP, "job-$n", $path, new Sending(self::stream($text)));
            }
            // Whoever merely looks finishes nothing: until it is asked for, the data is as it was.
            usleep(20_000);
            self::assertWhole('new' === $which ? 'old' : 'new', $this->seen(...), "swap $n");
            $link->swap(self::APP, "job-$n", $link->mark(self::APP));
            self::assertWhole($which, $this->seen(...), "swap $n");
            self::assertSame("job-$n", $link->swapped(self::APP));
        }
        foreach ($lookers as $looker) {
            fclose($looker['in']);
            $seen = json_decode((string) stream_get_contents($looker['out']), true);
            self::assertIsArray($seen);
            $seen = array_flip(array_filter($seen, is_string(...)));
            self::assertSame([], array_diff_key($seen, ['old' => 0, 'new' => 0, 'refused' => 0]));
            self::assertArrayHasKey('new', $seen);
            self::assertSame(0, self::ended($looker));
        }
    }

    /** Of two who saw the same data only one may replace it. */
    public function testTwoWhoSwapAtOnceLeaveOneOfBoth(): void
    {
        for ($round = 0; $round < 5; ++$round) {
            $this->prepare(self::set('old'));
            $link = $this->link();
            foreach (['one', 'two'] as $stage) {
                foreach (self::set($stage) as $path => $text) {
                    $link->push(self::APP, $stage, $path, new Sending(self::stream($text)));
                }
            }
            $both = [];
            foreach (['one', 'two'] as $stage) {
                $both[$stage] = $this->elsewhere(<<<PHP
                    \$mark = \$link->mark(APP);
                    echo '.';
                    fread(STDIN, 1);
                    try {
                        \$link->swap(APP, '$stage', \$mark);
                        echo 'done';
                    } catch (Geschenk\\Core\\Phone\\PhoneRefuses) {
                        echo 'refused';
                    }
                    PHP);
            }
            array_map(self::awaitByte(...), $both);
            array_map(static fn (array $one): int|false => fwrite($one['in'], '!'), $both);
            $answers = array_map(static fn (array $one): string => (string) stream_get_contents($one['out']), $both);
            $counted = array_count_values($answers);
            ksort($counted);
            self::assertSame(['done' => 1, 'refused' => 1], $counted);
            $winner = (string) array_search('done', $answers, true);
            self::assertWhole($winner, $this->seen(...), "round $round");
            self::assertSame($winner, $link->swapped(self::APP));
        }
    }

    // Tools

    /** @return array<string, string> files whose text tells which set they belong to */
    private static function set(string $which): array
    {
        $files = ['a.txt' => $which, 'of-'.$which => $which];
        for ($n = 0; $n < 40; ++$n) {
            $files['sub/'.($n % 4)."/$n.txt"] = $which;
        }

        return $files;
    }

    /** @param callable(string): ?string $seen */
    private static function assertWhole(string $which, callable $seen, string $context): void
    {
        foreach (self::set($which) as $path => $text) {
            self::assertSame($text, $seen($path), "$context: $path");
        }
        foreach (array_diff(['old', 'new', 'one', 'two'], [$which]) as $other) {
            self::assertNull($seen('of-'.$other), "$context: of-$other");
        }
    }

    /**
     * Runs PHP in another process, with $link to the phone.
     *
     * @return array{process: resource, in: resource, out: resource}
     */
    private function elsewhere(string $code): array
    {
        $loader = var_export(dirname(__DIR__, 2).'/vendor/autoload.php', true);
        $link = $this->linkElsewhere();
        $code = "require $loader; const APP = '".self::APP."'; \$link = $link; ".str_replace('LINK;', $link.';', $code);
        $pipes = [];
        $process = proc_open(
            [\PHP_BINARY, '-d', 'pcov.enabled=0', '-r', $code], [['pipe', 'r'], ['pipe', 'w'], \STDERR], $pipes,
        );
        self::assertIsResource($process);
        $this->others[] = $process;

        return ['process' => $process, 'in' => $pipes[0], 'out' => $pipes[1]];
    }

    /** @param array{process: resource, in: resource, out: resource} $one */
    private static function awaitByte(array $one): void
    {
        self::assertSame('.', fread($one['out'], 1), 'The other process did not begin.');
    }

    /**
     * @param array{process: resource, in: resource, out: resource} $one
     *
     * @return int its exit code, or the signal that ended it
     */
    private static function ended(array $one): int
    {
        do {
            usleep(2_000);
            $status = proc_get_status($one['process']);
        } while ($status['running']);

        return $status['signaled'] ? $status['termsig'] : $status['exitcode'];
    }

    /** @return array<string, int> bytes by path, sorted */
    private static function staged(PhoneLink $link, string $stage): array
    {
        $staged = [];
        foreach ($link->staged(self::APP, $stage) as $file) {
            $staged[$file->path] = $file->bytes;
        }
        ksort($staged, \SORT_STRING);

        return $staged;
    }

    protected static function unheard(int $bytes): void
    {
    }

    /** @return resource */
    protected static function stream(string $text = ''): mixed
    {
        $stream = fopen('php://memory', 'w+');
        self::assertIsResource($stream);
        fwrite($stream, $text);
        rewind($stream);

        return $stream;
    }

    /** @param resource $stream */
    private static function textOf(mixed $stream): string
    {
        rewind($stream);

        return (string) stream_get_contents($stream);
    }
}
