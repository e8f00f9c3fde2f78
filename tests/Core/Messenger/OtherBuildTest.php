<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoredMessage;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Formats\Quillet\Android\AndroidFormat;
use Geschenk\Tests\Support\Formats\Quillet\Android\AndroidWriter;
use Geschenk\Tests\Support\OtherFormats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** A format of another build is read, converted and checked by nothing but its own folder. */
final class OtherBuildTest extends TestCase
{
    use Scratch;
    use TestTrait;

    public function testItGivesBackWhatItWasGiven(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed): void {
            $here = $this->path((string) $seed);
            Folder::remove($here);
            Folder::make($here);
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', null, 'Quillet');
            $back = Chats::through($chats, $here.'/files', new AndroidFormat(), $here.'/out', $here.'/y.sqlite');
            $totals = $this->compare($chats, $back, $here.'/result.sqlite');
            self::assertTrue($totals->complete(), json_encode($totals->toArray(), \JSON_THROW_ON_ERROR));
            $odd = array_filter(array_column($back->findings(), 'code'), self::isNoTime(...));
            self::assertSame([], $odd, 'nothing else is odd about it');
        });
    }

    public function testItsFilesAreManyAndItsMessagesComeInAnyOrder(): void
    {
        $this->phone(30);
        $files = (new AndroidFormat())->chatFiles()->in($this->path('phone'));
        self::assertCount(17, $files);
        $said = [];
        foreach ($files as $file) {
            preg_match_all('/"do":"say".*"id":"(\d+)"/', (string) file_get_contents($this->path('phone/'.$file)), $ids);
            $said = [...$said, ...$ids[1]];
        }
        $sorted = $said;
        sort($sorted, \SORT_NUMERIC);
        self::assertGreaterThan(20, count($said));
        self::assertNotSame($sorted, $said);
    }

    public function testItIsConvertedAndTheRehearsalTallies(): void
    {
        $this->phone(20);
        $source = $this->source();
        self::assertSame('Quillet', $source->chats->source()->messenger);
        Folder::make($this->path('conversion'));
        $conversion = new Conversion(
            OtherFormats::all(), $this->apart(), $source->chats, $source->files ?? self::fail(),
            $this->path('conversion'), Platform::Android,
        );
        $converted = $conversion->run(1_795_192_800_000, [], new NoProgress());
        self::assertTrue($converted->totals->complete());
        self::assertGreaterThan(25, $converted->totals->messages);
    }

    public function testContentIsWhatTheKeyOpensAndNotWhatLiesOnTheDisk(): void
    {
        $this->phone(20);
        $source = $this->source();
        $looked = 0;
        foreach ($this->messages($source->chats) as $stored) {
            foreach ($stored->message->attachments as $attachment) {
                if (!$attachment->presence->hasBytes()) {
                    continue;
                }
                $content = stream_get_contents($source->files?->open($attachment->path) ?? self::fail());
                self::assertSame($attachment->sha256, hash('sha256', (string) $content));
                self::assertSame($attachment->bytes, strlen((string) $content));
                self::assertNotSame($content, file_get_contents($this->path('phone/'.$attachment->path)));
                $cheap = (new FolderFiles($this->path('phone'), false))->look(
                    $attachment->path, $attachment->mediaType, $source->chats->contentKey($attachment->path),
                );
                self::assertSame($attachment->bytes, $cheap['bytes'], 'told without opening it');
                ++$looked;
            }
        }
        self::assertGreaterThan(10, $looked);
    }

    public function testWhatIsHarmedIsFoundByTheCheck(): void
    {
        $this->phone(20);
        $before = $this->read('before.sqlite', new ReadingHere(OtherFormats::all()));
        $kept = glob($this->path('phone/kept/*')) ?: self::fail();
        $this->changeAByte($kept[0]);
        unlink($this->path('phone/'.AndroidFormat::shard(7)));
        file_put_contents($this->path('phone/'.AndroidFormat::shard(3)), "no event\n", \FILE_APPEND);
        $after = $this->read('after.sqlite', $this->apart());
        $found = array_map(static fn (array $f): string => $f['code'].' '.$f['subject'], $after->findings());
        self::assertContains('row_unreadable 03.events', $found);
        self::assertContains('file_unreadable 07.events', $found);
        $totals = $this->compare($before, $after, $this->path('result.sqlite'));
        self::assertFalse($totals->complete());
        self::assertGreaterThan(0, $totals->missing);
    }

    public function testAFileThatItsKeyDoesNotOpenCostsItselfAlone(): void
    {
        $this->phone(20);
        $this->changeAByte((glob($this->path('phone/kept/*')) ?: self::fail())[0]);
        $presences = [];
        foreach ($this->messages($this->read('x.sqlite', $this->apart())) as $stored) {
            foreach ($stored->message->attachments as $attachment) {
                $presences[] = $attachment->presence;
            }
        }
        self::assertCount(1, array_keys($presences, Presence::Unreadable, true));
        self::assertGreaterThan(5, count(array_keys($presences, Presence::Present, true)));
    }

    public function testNothingThatShipsKnowsOfIt(): void
    {
        self::assertNull((new Formats())->writing('Quillet', Platform::Android));
        $this->phone(2);
        self::assertNull((new Formats())->detect($this->path('phone')));
        self::assertNull(OtherFormats::all()->writing('Otterpost', Platform::Android));
        self::assertSame(['quillet'], array_keys(OtherFormats::all()->apps()));
    }

    private static function isNoTime(string $finding): bool
    {
        return !str_starts_with($finding, 'time_');
    }

    /** Random chats in the format's own data folder. */
    private function phone(int $seed): void
    {
        do {
            Folder::remove($this->path('phone'));
            Folder::remove($this->path('chats.sqlite'));
            $chats = Chats::random(++$seed, $this->path('chats.sqlite'), $this->path('files'), null, 'Quillet');
        } while ($chats->messageCount() < 30);
        (new AndroidWriter())->write(
            $chats, new FolderFiles($this->path('files')), $this->path('phone'), new NoProgress(),
        );
    }

    private function source(): ChatSource
    {
        return ChatSource::open(
            $this->path('phone'), OtherFormats::all(), true, null, $this->apart(),
        );
    }

    private function read(string $store, ChatReading $reading): ChatStore
    {
        $reading->read(
            $this->path('phone'), new FolderFiles($this->path('phone')), $this->path($store), new NoProgress(),
        );

        return new ChatStore($this->path($store));
    }

    /** @return \Generator<int, StoredMessage> */
    private function messages(ChatStore $chats): \Generator
    {
        foreach ($chats->conversations() as $conversation) {
            yield from $chats->messages($conversation->id);
        }
    }

    private function compare(ChatStore $expected, ChatStore $found, string $result): Totals
    {
        return (new Comparison($expected, $found))->run($result, new NoProgress())->totals();
    }

    private function changeAByte(string $path): void
    {
        $bytes = (string) file_get_contents($path);
        $bytes[-1] = chr(ord($bytes[-1]) ^ 1);
        file_put_contents($path, $bytes);
    }

    private function apart(): ChatReading
    {
        return OtherFormats::readingApart();
    }
}
