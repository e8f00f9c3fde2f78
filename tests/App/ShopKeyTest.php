<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\DataFolder;
use Geschenk\App\Refusal;
use Geschenk\App\Security\ShopKey;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\PasswordCost;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** Who starts a shop tells its key: what is typed, what is in a file, and what is neither. */
final class ShopKeyTest extends TestCase
{
    use Scratch;

    private const WORDS = 'the heron waits for low tide';

    public function testTheFirstPassphraseIsTheShopsAndIsAskedForFromThenOn(): void
    {
        $into = $this->path('memory');
        $key = $this->key();
        self::assertSame('passphrase_short', $this->why(static fn () => $key->takePassphrase('low tide', $into)));
        self::assertFalse($key->isMade());
        $key->takePassphrase(self::WORDS, $into);
        self::assertTrue($key->isMade() && $key->isPassphrase());
        $made = $this->ring($into)->keyFor('one')->bytes();
        unlink($into);
        self::assertSame('key_wrong', $this->why(fn () => $this->key()->takePassphrase('the heron waits', $into)));
        self::assertFileDoesNotExist($into);
        $this->key()->takePassphrase(self::WORDS, $into);
        self::assertSame($made, $this->ring($into)->key('one')->bytes());
        foreach (Folder::files($this->path('')) as $file) {
            self::assertStringNotContainsString('heron', $file.file_get_contents($this->path($file)));
        }
    }

    public function testItIsChangedToAFileAndBackAndWhatWasThereOpens(): void
    {
        $into = $this->path('memory');
        $this->key()->takePassphrase(self::WORDS, $into);
        $made = $this->ring($into)->keyFor('one')->bytes();
        $this->key()->changeToFile($into, $this->path('stick'));
        self::assertSame(0, (int) fileperms($this->path('stick')) & 0o077);
        self::assertSame('key_wrong', $this->why(fn () => $this->ring($into)->key('one')));
        $this->key('stick')->takeFile();
        self::assertSame($made, $this->ring($this->path('stick'))->key('one')->bytes());
        $this->key('stick')->changeToPassphrase($this->path('stick'), 'another one for all tides');
        self::assertSame('key_wrong', $this->why(fn () => $this->key('stick')->takeFile()));
        $this->key()->takePassphrase('another one for all tides', $into);
        self::assertSame($made, $this->ring($into)->key('one')->bytes());
        // Whoever has the wrong one changes nothing.
        self::assertSame('key_wrong', $this->why(
            fn () => $this->key()->changeToPassphrase($this->path('stick'), 'whoever has the wrong one'),
        ));
        $this->key()->takePassphrase('another one for all tides', $into);
    }

    /** The commands, as whoever starts a shop meets them: nothing is asked of a file, and each lack is one line. */
    public function testTheCommandsSayWhatIsLackingAndChangeIt(): void
    {
        $in = fn (string $typed, string $file, string ...$words): array => $this->console(
            $typed, $file, array_values($words),
        );
        Folder::make($this->path('data'));
        self::assertStringContainsString('nobody has told its key', $in('', '', 'shop:unlock')[1]);
        self::assertStringContainsString('is not there', $in('', $this->path('none'), 'shop:unlock')[1]);
        $into = '--into='.$this->path('memory');
        [$code, $said] = $in("12345678901\n12345678901\n", '', 'shop:unlock', $into);
        self::assertSame(2, $code);
        self::assertStringContainsString('12 letters', $said);
        self::assertStringContainsString('not the same', $in(self::WORDS."\nother\n", '', 'shop:unlock', $into)[1]);
        self::assertFileDoesNotExist($this->path('data/keys/ring'));
        self::assertSame(0, $in(self::WORDS."\n".self::WORDS."\n", '', 'shop:unlock', $into)[0]);
        // As an installation does, which names the file that the passphrase is to make.
        self::assertSame(0, $in(self::WORDS."\n", $this->path('none'), 'shop:unlock', $into)[0]);
        self::assertStringContainsString('not the key', $in("another\n", '', 'shop:unlock', $into)[1]);
        self::assertSame(0, $in(self::WORDS."\n", '', 'shop:unlock', $into)[0]);
        self::assertStringContainsString('not the key', $in("other\n", '', 'shop:key', '--file='.$this->path('k'))[1]);
        self::assertFileDoesNotExist($this->path('k'));
        $running = fopen($this->path('data/running'), 'c');
        self::assertIsResource($running);
        self::assertTrue(flock($running, \LOCK_SH));
        self::assertStringContainsString(
            'Stop the shop first', $in(self::WORDS."\n", '', 'shop:key', '--file='.$this->path('k'))[1],
        );
        fclose($running);
        [$code, $said] = $in(self::WORDS."\n", '', 'shop:key', '--file='.$this->path('k'));
        self::assertSame(0, $code, $said);
        self::assertStringContainsString('lies in a file', $in(self::WORDS."\n", '', 'shop:unlock', $into)[1]);
        self::assertSame([0, ''], $in('', $this->path('k'), 'shop:unlock'));
        [$code, $said] = $in("one and the same again\none and the same again\n", $this->path('k'), 'shop:key');
        self::assertSame(0, $code, $said);
        self::assertSame(0, $in("one and the same again\n", '', 'shop:unlock', $into)[0]);
    }

    private function key(string $file = ''): ShopKey
    {
        return new ShopKey(
            new DataFolder($this->path('data')), '' === $file ? '' : $this->path($file), new PasswordCost(1, 8_192),
        );
    }

    private function ring(string $file): Keyring
    {
        return new Keyring($this->path('data/keys'), new KeyFile($file));
    }

    /** @param callable(): mixed $do */
    private function why(callable $do): ?string
    {
        try {
            $do();

            return null;
        } catch (KeyFailure|Refusal $failure) {
            return $failure->reason;
        }
    }

    /**
     * @param list<string> $words
     *
     * @return array{int, string}
     */
    private function console(string $typed, string $file, array $words): array
    {
        $process = new Process([\PHP_BINARY, dirname(__DIR__, 2).'/bin/console', ...$words], null, [
            'GESCHENK_DATA' => $this->path('data'), 'GESCHENK_KEY_FILE' => $file, 'APP_ENV' => 'test',
            'APP_DEBUG' => '0', 'APP_SECRET' => 'only-for-the-tests',
        ], $typed, 120);
        $code = $process->run();

        return [$code, trim((string) preg_replace('/\s+/', ' ', $process->getOutput().$process->getErrorOutput()))];
    }
}
