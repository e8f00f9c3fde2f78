<?php

declare(strict_types=1);

namespace Geschenk\Tests\Hostile;

use Geschenk\Core\Archive\BackupMaker;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingApart;
use Geschenk\Core\Messenger\ReadingLimits;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Every prepared phone is answered, within limits that the system keeps, and the next phone is served as ever. */
final class PreparedPhonesTest extends TestCase
{
    use Scratch;

    private const SLIPS = 60;

    /** @return iterable<string, array{string}> */
    public static function phones(): iterable
    {
        foreach (array_keys(PreparedPhones::all()) as $name) {
            yield $name => [$name];
        }
    }

    #[DataProvider('phones')]
    public function testItIsAnsweredAndTheNextOneIsServed(string $name): void
    {
        ['make' => $spoil, 'answer' => $answer] = PreparedPhones::all()[$name];
        $honest = Phones::giving($this->path('honest'), [], false, self::SLIPS);
        $phone = Phones::giving($this->path('phones'), [], false, self::SLIPS);
        $spoil($phone);
        $maker = new BackupMaker(new Formats(), new ReadingApart(
            dirname(__DIR__, 2).'/bin/read-chats', new Formats(), static fn (int $bytes): ReadingLimits => new ReadingLimits(20, 90, 402_653_184, 200_000_000),
        ));
        $whole = $this->messages($maker, $honest, 'honest-bag');
        try {
            $kept = $this->messages($maker, $phone, 'bag');
            self::assertNotSame('said', $answer, 'This was to be refused.');
            if ('whole' === $answer) {
                self::assertSame($whole, $kept);
            }
            $this->holdsNothingOfOurs();
        } catch (UnusableInput|PhoneRefuses $refusal) {
            self::assertNotSame('whole', $answer, $refusal->getMessage());
            self::assertDoesNotMatchRegularExpression('/SQLSTATE|Undefined|must be of type|Stack trace|\.php/', $refusal->getMessage());
            self::assertDirectoryDoesNotExist($this->path('bag'), 'Nothing half done is called a backup.');
        }
        self::assertSame($whole, $this->messages($maker, $honest, 'honest-again'), 'The next phone is served as ever.');
    }

    private function messages(BackupMaker $maker, \Geschenk\Standin\Phone\PhoneFolder $phone, string $bag): int
    {
        $maker->make(Phones::link($phone), 'otterpost', $this->path($bag), [], new NoProgress(), BackupKey::of(PreparedPhones::PASSWORD));
        Bag::validate($this->path($bag));
        $chats = new ChatStore($this->path($bag.'/data/chats.sqlite'), true);
        // What was read can be shown and converted.
        json_encode([iterator_to_array($chats->people(), false), $chats->overview(), $chats->findings()], \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
        Expectation::of(Chats::format('ios')->capabilities())->build($chats, $this->path($bag.'-expected.sqlite'), new NoProgress());

        return $chats->messageCount() + $chats->summary()['lost'];
    }

    /** Nothing that lay outside the messenger's folder came along. */
    private function holdsNothingOfOurs(): void
    {
        $ours = hash_file('sha256', '/etc/passwd');
        foreach (Folder::files($this->path('bag/data')) as $path) {
            self::assertNotSame($ours, hash_file('sha256', $this->path('bag/data/'.$path)), $path);
        }
    }
}
