<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\App\Entity\User;
use Geschenk\Core\Files\Durable\ScratchFolder;

/** A shop for measuring, with a data folder and a real server of its own, and somebody who is signed in. */
final class ServedShop
{
    /** As "geschenk" starts its processes. */
    private const AS_SERVED = [
        '-d', 'pcov.enabled=0', '-d', 'opcache.enable_cli=1', '-d', 'opcache.jit=disable',
    ];

    public readonly BenchBrowser $browser;
    private readonly ScratchFolder $home;
    /** For what it unseals: gone with it, whichever way its processes end. */
    private readonly ScratchFolder $memory;
    /** @var list<resource> */
    private array $processes = [];

    /** @param callable(\SQLite3): void $fill writes what the shop has into its records */
    public function __construct(private readonly string $project, callable $fill)
    {
        $this->home = ScratchFolder::make();
        $this->memory = ScratchFolder::inMemory();
        $this->wait($this->start([
            \PHP_BINARY, $project.'/bin/console', 'doctrine:migrations:migrate', '--no-interaction', '--quiet',
        ]));
        $shop = new \SQLite3($this->home->path.'/shop.sqlite');
        $shop->enableExceptions(true);
        $role = User::TECHNICIAN;
        $hash = \SQLite3::escapeString(password_hash('bench', \PASSWORD_BCRYPT, ['cost' => 4]));
        $shop->exec(
            'INSERT INTO shop_user (username, display_name, role, password) '
                ."VALUES ('bench', 'Bench', '$role', '$hash')",
        );
        $shop->exec('BEGIN');
        $fill($shop);
        $shop->exec('COMMIT');
        $shop->close();
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new \RuntimeException('No port is free.');
        $address = (string) stream_socket_get_name($socket, false);
        fclose($socket);
        $this->beside([
            \PHP_BINARY, ...self::AS_SERVED, '-d', 'variables_order=EGPCS', '-S', $address, '-t', $project.'/public',
            $project.'/public/router.php',
        ]);
        try {
            $this->browser = new BenchBrowser($address);
            $this->browser->signIn('bench', 'bench');
        } catch (\Throwable $failure) {
            $this->end();
            throw $failure;
        }
    }

    /**
     * A command of the application that runs meanwhile; what works does it behind what answers pages.
     *
     * @param list<string> $command
     */
    public function meanwhile(array $command): void
    {
        $this->beside([
            'nice', '-n', '10', \PHP_BINARY, ...self::AS_SERVED, '-d', 'memory_limit=512M',
            $this->project.'/bin/console', ...$command,
        ]);
    }

    /** @return int how many of its processes run still, the server with them */
    public function running(): int
    {
        return array_sum(array_map(
            static fn (mixed $process): int => (int) proc_get_status($process)['running'], $this->processes,
        ));
    }

    public function end(): void
    {
        foreach ($this->processes as $process) {
            proc_terminate($process, \SIGKILL);
            $this->wait($process);
        }
        $this->processes = [];
        $this->home->remove();
        $this->memory->remove();
    }

    /** @param list<string> $command */
    private function beside(array $command): void
    {
        $this->processes[] = $this->start($command);
    }

    /**
     * @param list<string> $command
     *
     * @return resource
     */
    private function start(array $command): mixed
    {
        $nowhere = ['file', '/dev/null', 'a'];
        $process = proc_open($command, [['file', '/dev/null', 'r'], $nowhere, $nowhere], $pipes, $this->project, [
            'GESCHENK_DATA' => $this->home->path, 'GESCHENK_MEMORY' => $this->memory->path,
            'APP_ENV' => 'demo', 'APP_DEBUG' => '0', 'APP_SECRET' => 'only-for-measuring',
            'PATH' => (string) getenv('PATH'),
        ]);

        return is_resource($process) ? $process : throw new \RuntimeException('No process could be started.');
    }

    /** @param resource $process */
    private function wait(mixed $process): void
    {
        while (proc_get_status($process)['running']) {
            usleep(20_000);
        }
        proc_close($process);
    }
}
