<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\ReadingPhp;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class ReadingPhpTest extends TestCase
{
    use Scratch;

    public function testItHasWhatItNeedsAndNoMore(): void
    {
        $has = $this->said('echo json_encode(get_loaded_extensions());', ['sqlite3', 'built-in or missing'], null);
        self::assertIsArray($has);
        self::assertContains('sqlite3', $has);
        foreach (['FFI', 'curl', 'ftp', 'gd', 'sockets', 'pdo_sqlite', 'Phar'] as $extension) {
            self::assertNotContains($extension, $has);
        }
    }

    public function testWhatWasCompiledIsKeptWhereThereIsAPlaceForIt(): void
    {
        self::assertSame(7, $this->said('echo 7;', [], $this->path('compiled')));
        self::assertCount(1, [...Folder::files($this->path('compiled'))]);
        self::assertSame(7, $this->said('echo 7;', [], $this->path('compiled')));
        self::assertSame(7, $this->said('echo 7;', [], '/dev/null/compiled'));
    }

    public function testNothingThatWasCompiledOutlivesAChange(): void
    {
        self::assertSame(7, $this->said('echo 7;', [], $this->path('compiled')));
        self::assertSame(8, $this->said('echo 8;', [], $this->path('compiled'), 10));
    }

    /** @param list<string> $extensions */
    private function said(string $code, array $extensions, ?string $compiled, int $secondsAgo = 20): mixed
    {
        $script = $this->path('script.php');
        file_put_contents($script, '<?php '.$code);
        // What has changed just now is not kept: it may change once more within the same second.
        touch($script, time() - $secondsAgo);
        $command = (new ReadingPhp($script, $extensions, $compiled))->command();
        $process = proc_open($command, [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes);
        self::assertIsResource($process);
        $said = [stream_get_contents($pipes[1]), stream_get_contents($pipes[2])];
        self::assertSame([0, ''], [proc_close($process), $said[1]]);

        return json_decode((string) $said[0]);
    }
}
