<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Merge\Held;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\UnusableInput;
use Geschenk\Standin\Demo\OldPouch;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\Group;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * Damage of many sorts by seed: what is read is what was there, and messages and those told lost make up all of them,
 * or it is told that nobody could count. GESCHENK_SEEDS=1000 searches longer.
 */
#[Group('search')]
final class DamageSeedsTest extends TestCase
{
    use Scratch;

    private const PAGE = 4096;
    private const SLIPS = 150;

    /**
     * @var array<string, array{
     *     string, array<string, int>, int,
     * }> folder, fingerprints of messages, and how many, by ground
     */
    private static array $grounds = [];
    private static ?string $home = null;

    public static function tearDownAfterClass(): void
    {
        self::$grounds = [];
        if (null !== self::$home) {
            Folder::remove(self::$home);
        }
    }

    /**
     * @return iterable<string, array{
     *     string, string, bool,
     * }> ground, sort of damage, whether single values may differ unseen
     */
    public static function sorts(): iterable
    {
        foreach (['android', 'android-4', 'ios'] as $ground) {
            foreach (['swapped', 'doubled', 'zeroed', 'garbage', 'cut'] as $sort) {
                yield "$ground, $sort pages" => [$ground, $sort, false];
            }
            yield "$ground, changed bytes" => [$ground, 'flipped', true];
        }
        foreach (['log cut', 'log salts', 'log head', 'log zeros', 'log garbage', 'log bytes'] as $sort) {
            yield "android, $sort" => ['android-log', $sort, false];
        }
    }

    #[DataProvider('sorts')]
    public function testNothingIsReadThatWasNotThereAndNothingGoesUncounted(
        string $ground,
        string $sort,
        bool $mayDiffer,
    ): void {
        [$folder, $whole, $count] = self::ground($ground);
        $file = 'ios' === $ground ? 'Pouch.sqlite' : 'pouch.db';
        $file .= str_starts_with($sort, 'log') ? '-wal' : '';
        $good = (string) file_get_contents($folder.'/'.$file);
        $work = $this->path('work');
        for ($seed = 0; $seed < (int) (getenv('GESCHENK_SEEDS') ?: 15); ++$seed) {
            Folder::remove($work);
            Folder::make($work);
            foreach (glob($folder.'/*') ?: [] as $path) {
                is_file($path) && copy($path, $work.'/'.basename($path));
            }
            file_put_contents($work.'/'.$file, self::harm($good, $sort, new Randomizer(new Mt19937($seed))));
            try {
                $source = ChatSource::open($work, new Formats(), false);
            } catch (UnusableInput $refused) {
                self::assertDoesNotMatchRegularExpression(
                    '/\n|Argument|TypeError|must be of type|line \d+$/', $refused->getMessage(), "seed $seed",
                );
                continue;
            }
            $codes = array_column($source->chats->findings(), 'count', 'code');
            $found = self::fingerprints($source->chats);
            $summary = $source->chats->summary();
            if (!$mayDiffer) {
                $strange = array_sum(
                    array_map(
                        static fn (string $print, int $n): int => max(0, $n - ($whole[$print] ?? 0)),
                        array_map(strval(...), array_keys($found)), $found,
                    ),
                );
                // What hangs on a message may be missing, which is told; its words may not be others.
                self::assertSame(0, $strange, "seed $seed: messages that were not there");
            }
            if (!isset($codes['loss_uncounted']) && !('log cut' === $sort && $summary['messages'] < $count)) {
                self::assertSame($count, $summary['messages'] + $summary['lost'], "seed $seed: ".json_encode($codes));
            }
            self::assertLessThanOrEqual(
                $count,
                $summary['messages'] + ('flipped' === $sort || isset($codes['loss_uncounted']) ? 0 : $summary['lost']),
                "seed $seed: ".json_encode($codes),
            );
        }
    }

    /** A receiving phone counts as much: whatever can be saved of it stays in a merge, and the rest is told. */
    public function testWhatIsSavedOfADamagedPhoneStaysInAMergeAndTheRestIsTold(): void
    {
        $sorts = ['swapped', 'doubled', 'zeroed', 'garbage', 'cut', 'flipped'];
        $files = Phones::giving($this->path('gives'), [], false, 60)->data('otterpost');
        $backup = ChatSource::open($files, new Formats(), true);
        $damaged = 0;
        for ($seed = 0; $seed < (int) (getenv('GESCHENK_SEEDS') ?: 50); ++$seed) {
            $platform = ['ios', 'android'][$seed % 2];
            [$folder, , $count] = self::ground($platform);
            $work = $this->path('work');
            Folder::remove($work);
            // Its files lie there as they are, and only the database is harmed.
            exec(sprintf('cp -al %s %s', escapeshellarg($folder), escapeshellarg($work)));
            $file = 'ios' === $platform ? 'Pouch.sqlite' : 'pouch.db';
            $good = (string) file_get_contents($folder.'/'.$file);
            unlink($work.'/'.$file);
            $chance = new Randomizer(new Mt19937($seed));
            file_put_contents($work.'/'.$file, self::harm($good, $sorts[$seed % count($sorts)], $chance));
            try {
                $source = ChatSource::open($work, new Formats(), true);
            } catch (UnusableInput) {
                continue;
            }
            $there = $source->chats;
            $made = Folder::make($this->path('made-'.$seed));
            $conversion = new Conversion(
                new Formats(), new ReadingHere(), $backup->chats, new FolderFiles($files), $made,
                Platform::from($platform), new Held($there, new FolderFiles($work)),
            );
            try {
                $converted = $conversion->run(1_795_192_800_000, [], new NoProgress());
            } catch (UnusableInput $refused) {
                // A number of which a single byte was changed is that of somebody else.
                $account = $there->source()->account;
                self::assertNotSame(Phones::NUMBER, $account, "seed $seed");
                self::assertSame('' === $account ? 'account_unreadable' : 'another_account', $refused->reason);
                ++$damaged;
                continue;
            }
            $merge = $converted->merge ?? self::fail();
            $summary = $there->summary();
            self::assertTrue($converted->totals->complete(), "seed $seed: ".json_encode($converted->totals));
            self::assertSame(
                $summary['messages'], $merge->there + $merge->both + $merge->dropped, "seed $seed: all that was saved",
            );
            self::assertSame(
                [$summary['lost'], $there->isLossUncounted()], [$merge->lost, $merge->isLossUncounted], "seed $seed",
            );
            if (!$merge->isLossUncounted) {
                self::assertSame($count, $summary['messages'] + $merge->lost, "seed $seed: and the rest");
            }
            $damaged += $merge->lost > 0 || $merge->isLossUncounted ? 1 : 0;
            Folder::remove($made);
        }
        self::assertGreaterThan(20, $damaged);
    }

    private static function harm(string $good, string $sort, Randomizer $chance): string
    {
        $pages = intdiv(strlen($good), self::PAGE);
        $page = static fn (int $n): string => substr($good, $n * self::PAGE, self::PAGE);
        $put = static fn (string $bytes, int $n, string $with): string => substr_replace(
            $bytes, $with, $n * self::PAGE, strlen($with),
        );
        [$one, $other] = [$chance->getInt(1, max(1, $pages - 1)), $chance->getInt(1, max(1, $pages - 1))];
        $frame = self::PAGE + 24;
        $frames = intdiv(strlen($good) - 32, $frame);
        $at = 32 + $chance->getInt(0, max(0, $frames - 1)) * $frame;

        return match ($sort) {
            'swapped' => $put($put($good, $one, $page($other)), $other, $page($one)),
            'doubled' => $put($good, $one, $page($other)),
            'zeroed' => $put($good, $one, str_repeat("\0", self::PAGE)),
            'garbage' => $put($good, $one, $chance->getBytes($chance->getInt(1, self::PAGE))),
            'cut' => substr($good, 0, $chance->getInt(1, strlen($good) - 1)),
            'flipped' => self::flipped($good, $chance, $chance->getInt(1, 64)),
            // Where the cut is just behind a transaction nobody can see it.
            'log cut' => substr($good, 0, $chance->getInt(1, strlen($good) - 1)),
            'log salts' => substr_replace($good, $chance->getBytes(1), $at + $chance->getInt(8, 15), 1),
            'log head' => substr_replace($good, $chance->getBytes(1), $chance->getInt(0, 31), 1),
            'log zeros' => substr_replace(
                $good, str_repeat("\0", min($frame * 2, strlen($good) - $at)), $at,
                min($frame * 2, strlen($good) - $at),
            ),
            'log garbage' => substr_replace(
                $good, $chance->getBytes(max(1, min($frame * 2, strlen($good) - $at))), $at,
                min($frame * 2, strlen($good) - $at),
            ),
            default => self::flipped($good, $chance, 1),
        };
    }

    private static function flipped(string $bytes, Randomizer $chance, int $count): string
    {
        for (; $count > 0; --$count) {
            $at = $chance->getInt(0, strlen($bytes) - 1);
            $bytes[$at] = chr(ord($bytes[$at]) ^ (1 << $chance->getInt(0, 7)));
        }

        return $bytes;
    }

    /** @return array{string, array<string, int>, int} */
    private static function ground(string $name): array
    {
        if (isset(self::$grounds[$name])) {
            return self::$grounds[$name];
        }
        self::$home ??= sys_get_temp_dir().'/geschenk-grounds-'.bin2hex(random_bytes(4));
        $folder = Phones::giving(self::$home.'/'.$name, [], false, self::SLIPS)->data('otterpost');
        if ('android-4' === $name) {
            OldPouch::make($folder);
        }
        if ('ios' === $name) {
            $source = ChatSource::open($folder, new Formats(), true);
            Chats::format('ios')->writer()?->write(
                $source->chats, new FolderFiles($folder), self::$home.'/as-ios', new NoProgress(),
            );
            $folder = self::$home.'/as-ios';
        }
        if ('android-log' !== $name) {
            $database = new \SQLite3($folder.'/'.('ios' === $name ? 'Pouch.sqlite' : 'pouch.db'));
            $database->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
            $database->close();
        }
        $chats = ChatSource::open($folder, new Formats(), false)->chats;

        return self::$grounds[$name] = [$folder, self::fingerprints($chats), $chats->messageCount()];
    }

    /** @return array<string, int> how often each message is there: its words, its sender, its time */
    private static function fingerprints(ChatStore $chats): array
    {
        $prints = [];
        foreach ($chats->conversations() as $conversation) {
            foreach ($chats->messages($conversation->id) as $stored) {
                $print = $stored->message->wireId.'|'.$stored->message->sentAt.'|'.$stored->message->text;
                $prints[$print] = ($prints[$print] ?? 0) + 1;
            }
        }

        return $prints;
    }
}
