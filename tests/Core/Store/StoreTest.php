<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\SafeJson;
use Geschenk\Core\Store\StoreTakeOver;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class StoreTest extends TestCase
{
    use Scratch;
    use TestTrait;

    public function testAnyBytesSurviveJson(): void
    {
        $this->limitTo(300)->forAll(
            Generators::string(), Generators::int(),
        )->then(static function (string $text, int $n): void {
            $values = [
                'a' => $text, 'b' => "\xFF".$text, 'c' => 'base64:'.$text, 'd' => $n, 'e' => null, 'f' => 1.0,
                'g' => true,
            ];
            self::assertSame($values, SafeJson::map(SafeJson::encode($values)));
        });
    }

    public function testAnUnfinishedStoreLeavesNothing(): void
    {
        $writer = new StoreWriter($this->path('x.sqlite'));
        $writer->conversation(Chats::direct());
        unset($writer);
        self::assertSame([], array_diff(scandir($this->path()) ?: [], ['.', '..']));
    }

    public function testAPlaceIsFoundByTime(): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            foreach ([100, 200, 300] as $time) {
                $w->message($id, Chats::text('m', $time));
            }
        });
        self::assertSame([300, 100, null], array_map($chats->newestUpTo(...), [1_000, 199, 5]));
        self::assertSame(
            [1, 2, 3, 3], array_map(static fn (int $t): int => $chats->placeAt(1, $t), [0, 150, 300, 999]),
        );
    }

    public function testAStoreOfTheVersionBeforeIsReadTakenOverAndPlannedFrom(): void
    {
        Chats::random(4, $this->path('old.sqlite'), $this->path('files'), null);
        $database = new \SQLite3($this->path('old.sqlite'));
        $database->exec('DROP TABLE content_key; PRAGMA user_version = 2');
        $database->close();
        $old = new ChatStore($this->path('old.sqlite'));
        self::assertNull($old->contentKey('anywhere'));
        StoreTakeOver::take($this->path('old.sqlite'), $this->path('new.sqlite'), new NoProgress());
        $losses = [];
        foreach (['old.sqlite', 'new.sqlite'] as $n => $name) {
            $chats = new ChatStore($this->path($name));
            self::assertSame($old->summary(), $chats->summary());
            $losses[] = Expectation::of(Chats::format('ios')->capabilities(), 0)->build(
                $chats, $this->path("expected-$n.sqlite"), new NoProgress(),
            );
            self::assertGreaterThan(0, (new ChatStore($this->path("expected-$n.sqlite")))->writtenCount());
        }
        self::assertNotSame([], $losses[0]);
        self::assertEquals($losses[0], $losses[1]);
    }

    public function testAFileHasOneKeyAndWhatIsNoKeyIsSaid(): void
    {
        [$first, $second] = [ContentKey::random(Cipher::SecretStream), ContentKey::random(Cipher::SecretStream)];
        $path = "kept/\xFF\0:odd";
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use (
            $first, $second, $path,
        ): void {
            self::assertSame($first, $w->contentKey($path, $first));
            self::assertEquals($first, $w->contentKey($path, $second));
        });
        self::assertEquals($first, $chats->contentKey($path));
        self::assertNull($chats->contentKey("kept/\xFF"));
        $chats->copyFrame($copy = new StoreWriter($this->path('y.sqlite')));
        $copy->finish();
        self::assertEquals($first, (new ChatStore($this->path('y.sqlite')))->contentKey($path));
        (new \SQLite3($this->path('x.sqlite')))->exec("UPDATE content_key SET key = x'00'");
        $this->expectException(UnusableInput::class);
        (new ChatStore($this->path('x.sqlite')))->contentKey($path);
    }

    public function testMemoryStaysFlatAsChatsGrow(): void
    {
        // Once before measuring, so that classes and statements are loaded.
        $this->peakOfReading(50, 'warm');
        $small = $this->peakOfReading(300, 'small');
        $large = $this->peakOfReading(6_000, 'large');
        self::assertLessThan(
            1_500_000, $large - $small, sprintf('%d bytes for 300 messages, %d for 6,000.', $small, $large),
        );
    }

    private function peakOfReading(int $slips, string $name): int
    {
        $folder = Phones::giving($this->path($name), [], false, $slips)->data('otterpost');
        gc_collect_cycles();
        $before = memory_get_usage();
        memory_reset_peak_usage();
        $source = ChatSource::open($folder, new Formats(), true);
        $n = 0;
        foreach ($source->chats->conversations() as $c) {
            foreach ($source->chats->messages($c->id) as $_) {
                ++$n;
            }
        }
        self::assertGreaterThanOrEqual($slips - 20, $n);

        return memory_get_peak_usage() - $before;
    }
}
