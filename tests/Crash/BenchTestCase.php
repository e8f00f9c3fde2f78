<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\TestCase;

/**
 * The application on a data folder of its own, as it is before each kind of run, with another process to tell what to
 * do.
 */
abstract class BenchTestCase extends TestCase
{
    protected static ?ScratchFolder $scratch = null;
    /** For what the application unseals: gone with the tests, whichever way its processes end. */
    protected static ?ScratchFolder $memory = null;
    /** @var array{resource, array<int, resource>}|null */
    protected static ?array $bench = null;
    /** @var array<string, string> home folders as they were before each kind of run */
    protected static array $before = [];

    public static function setUpBeforeClass(): void
    {
        self::$scratch = ScratchFolder::make();
        self::$memory = ScratchFolder::inMemory();
        $home = self::home();
        Folder::make($home);
        exec(
            sprintf(
                'GESCHENK_DATA=%s APP_ENV=test APP_SECRET=only-for-the-tests %s %s doctrine:migrations:migrate '
                    .'--no-interaction 2>&1',
                escapeshellarg($home), escapeshellarg(\PHP_BINARY), escapeshellarg(dirname(__DIR__, 2).'/bin/console'),
            ),
            $said, $code,
        );
        self::assertSame(0, $code, implode("\n", $said));
        Phones::giving($home.'/standin/phones', [], false, 60);
        Phones::receiving($home.'/standin/phones');
        self::tell(['do' => 'open']);
        foreach (['backup', 'conversion', 'restore'] as $kind) {
            self::tell(['do' => 'ask', 'kind' => $kind]);
            self::keep($kind);
            self::tell(['do' => 'work']);
        }
        static::goOn();
    }

    /** Runs that come behind the first restore, where a test wants them. */
    protected static function goOn(): void
    {
    }

    /** What is missing is merged in, written, and all of it put back. */
    protected static function goOnBehindTheRestore(): void
    {
        self::tell(['do' => 'harm']);
        self::tell(['do' => 'bring']);
        self::keep('merge');
        self::tell(['do' => 'work']);
        self::tell(['do' => 'ask', 'kind' => 'restore']);
        self::tell(['do' => 'work']);
        self::tell(['do' => 'ask', 'kind' => 'put_back']);
        self::keep('put back');
    }

    public static function tearDownAfterClass(): void
    {
        if (null !== self::$bench) {
            fclose(self::$bench[1][0]);
            proc_close(self::$bench[0]);
            self::$bench = null;
        }
        self::$scratch?->remove();
        self::$memory?->remove();
        self::$scratch = self::$memory = null;
    }

    /** @return iterable<string, array{string}> */
    public static function kinds(): iterable
    {
        foreach (['backup', 'conversion', 'restore'] as $kind) {
            yield $kind => [$kind];
        }
    }

    protected static function home(): string
    {
        return (self::$scratch ?? throw new \LogicException())->path.'/home';
    }

    /** @return array<string, string> */
    protected static function environment(): array
    {
        return [
            'PATH' => (string) getenv('PATH'), 'GESCHENK_DATA' => self::home(), 'APP_ENV' => 'test',
            'APP_SECRET' => 'only-for-the-tests',
            'GESCHENK_MEMORY' => (self::$memory ?? throw new \LogicException())->path,
        ];
    }

    protected static function keep(string $kind): void
    {
        self::$before[$kind] = (self::$scratch ?? throw new \LogicException())->path.'/before-'.$kind;
        exec(sprintf('cp -a %s %s', escapeshellarg(self::home()), escapeshellarg(self::$before[$kind])));
    }

    protected static function layOut(string $kind): void
    {
        Folder::remove(self::home());
        exec(sprintf('cp -a %s %s', escapeshellarg(self::$before[$kind]), escapeshellarg(self::home())));
    }

    /**
     * @param array<string, string> $order
     *
     * @return array<array-key, mixed>
     */
    protected static function tell(array $order, string $where = ''): array
    {
        if (null === self::$bench) {
            $process = proc_open(
                [\PHP_BINARY, __DIR__.'/bench.php'],
                [['pipe', 'r'], ['pipe', 'w'], ['file', self::home().'.bench', 'a']], $pipes, null, self::environment(),
            );
            self::assertIsResource($process);
            self::$bench = [$process, $pipes];
        }
        fwrite(self::$bench[1][0], json_encode($order)."\n");
        $told = json_decode((string) fgets(self::$bench[1][1]), true);
        self::assertIsArray($told, $where.file_get_contents(self::home().'.bench'));
        self::assertArrayHasKey('ok', $told, $where.': '.json_encode($told));
        self::assertIsArray($told['ok']);

        return $told['ok'];
    }
}
