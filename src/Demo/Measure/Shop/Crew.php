<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure\Shop;

use Geschenk\Core\Files\Durable\ScratchFolder;
use Symfony\Component\Process\Process;

/** The processes of a shop on one data folder, as `./geschenk` keeps them: whoever ends is followed by another. */
final class Crew
{
    private const TASKS = [
        'worker' => ['messenger:consume', 'runs', '--keepalive=5', '--sleep=0.1', '--quiet'],
        'looks' => ['messenger:consume', 'looks', '--sleep=0.1', '--quiet'],
        'watch' => ['shop:watch', '--quiet'],
    ];

    /** @var array<string, Process> by task */
    private array $processes = [];

    /** For what the shop unseals: gone with the crew, whichever way its processes end. */
    private readonly ScratchFolder $memory;

    public function __construct(private readonly string $project, private readonly string $home)
    {
        $this->memory = ScratchFolder::inMemory();
    }

    /** @return list<string> */
    public static function tasks(): array
    {
        return array_keys(self::TASKS);
    }

    /** Begins anew whoever is not there. */
    public function attend(): void
    {
        foreach (self::TASKS as $task => $command) {
            if (true !== ($this->processes[$task] ?? null)?->isRunning()) {
                $this->processes[$task] = $this->process($command);
                $this->processes[$task]->start();
            }
        }
    }

    /** At once, like a power cut for one. */
    public function kill(string $task): void
    {
        $process = $this->processes[$task] ?? null;
        if (true === $process?->isRunning()) {
            $process->signal(\SIGKILL);
            $process->wait();
        }
    }

    public function end(): void
    {
        foreach ($this->processes as $process) {
            $process->stop(3.0, \SIGKILL);
        }
        $this->processes = [];
    }

    /**
     * @return array<array-key, mixed> what an act of ShopActs told
     *
     * @throws \RuntimeException when it was refused
     */
    public function act(string $act): array
    {
        $process = $this->process(['faults:act', $act]);
        $process->run();
        $told = json_decode($process->getOutput(), true);
        if (!is_array($told)) {
            throw new \RuntimeException($act.': '.trim($process->getOutput().$process->getErrorOutput()));
        }

        return $told;
    }

    public function migrate(): void
    {
        $this->process(['doctrine:migrations:migrate', '--no-interaction', '--quiet'])->mustRun();
    }

    /** @param list<string> $command */
    private function process(array $command): Process
    {
        return new Process([\PHP_BINARY, '-d', 'memory_limit=256M', $this->project.'/bin/console', ...$command], null, [
            'GESCHENK_DATA' => $this->home, 'TMPDIR' => $this->home.'/scratch', 'APP_ENV' => 'demo', 'APP_DEBUG' => '0',
            'GESCHENK_MEMORY' => $this->memory->path,
        ], null, null);
    }
}
