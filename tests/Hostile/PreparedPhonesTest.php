<?php

declare(strict_types=1);

namespace Geschenk\Tests\Hostile;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Every prepared phone is answered, within limits that the system keeps, and the phones beside and after it are served.
 */
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
    public function testItIsAnsweredAndTheOthersAreServed(string $name): void
    {
        ['make' => $spoil, 'answer' => $answer] = PreparedPhones::all()[$name];
        $honest = Phones::giving($this->path('honest'), [], false, self::SLIPS);
        $phone = Phones::giving($this->path('phones'), [], false, self::SLIPS);
        $spoil($phone);
        // Another tray goes on meanwhile, in a process of its own.
        $command = [\PHP_BINARY, '-d', 'memory_limit=256M', __DIR__.'/serve.php', $honest->path, $this->path('beside')];
        $other = proc_open($command, [1 => ['pipe', 'w'], 2 => \STDERR], $pipes);
        self::assertIsResource($other);
        $kept = null;
        try {
            $kept = PreparedPhones::serve($phone, $this->path('bag'));
            self::assertNotSame('said', $answer, 'This was to be refused.');
            $this->holdsNothingOfOurs();
        } catch (UnusableInput|PhoneRefuses $refusal) {
            self::assertNotSame('whole', $answer, $refusal->getMessage());
            self::assertDoesNotMatchRegularExpression(
                '/SQLSTATE|Undefined|must be of type|Stack trace|\.php/', $refusal->getMessage(),
            );
            self::assertDirectoryDoesNotExist($this->path('bag'), 'Nothing half done is called a backup.');
        }
        $whole = (int) stream_get_contents($pipes[1]);
        self::assertSame(0, proc_close($other), 'The tray beside it was served.');
        self::assertGreaterThan(self::SLIPS - 1, $whole);
        if ('whole' === $answer) {
            self::assertSame($whole, $kept);
        }
        self::assertSame($whole, PreparedPhones::serve($honest, $this->path('after')), 'So is the next phone.');
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
