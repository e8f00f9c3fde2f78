<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\Bench;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * What the watch takes of a processor while phones lie there and nothing goes on. The floor is to ask the same phones
 * once a second how they are, and no more. What starting takes is not counted: a watch runs for an hour.
 */
#[AsCommand('bench:watch', 'Measures what the watch takes while nothing goes on')]
final class BenchWatchCommand extends Command
{
    /** Seconds of the run that is taken off for what starting takes. */
    private const START = 4;

    public function __construct(#[Autowire('%kernel.project_dir%')] private readonly string $project)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('phones', null, InputOption::VALUE_REQUIRED, 'How many phones lie on the bench', '60')
            ->addOption('seconds', null, InputOption::VALUE_REQUIRED, 'How long it is watched', '30')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $numbers = [];
        foreach (['phones', 'seconds'] as $name) {
            $told = $input->getOption($name);
            if (!is_string($told) || 1 !== preg_match('/^[1-9]\d{0,3}$/', $told)) {
                $output->writeln('Say with --phones=60 --seconds=30 how many phones there are, and how long to watch.');

                return Command::INVALID;
            }
            $numbers[$name] = (int) $told;
        }
        $scratch = ScratchFolder::make();
        $environment = [
            'GESCHENK_DATA' => $scratch->path, 'APP_ENV' => 'demo', 'APP_DEBUG' => '0',
            'PATH' => (string) getenv('PATH'), 'APP_SECRET' => bin2hex(random_bytes(16)),
        ];
        self::lay($scratch->path.'/standin/phones', $numbers['phones']);
        $this->spend(['doctrine:migrations:migrate', '--no-interaction', '--quiet'], $environment);
        // Whatever it does of each phone once is behind it then.
        $this->spend(['shop:watch', '--time-limit='.self::START], $environment);
        [$start, $startTook] = $this->spend(['shop:watch', '--time-limit='.self::START], $environment);
        $long = '--time-limit='.(self::START + $numbers['seconds']);
        [$whole, $wholeTook] = $this->spend(['shop:watch', $long], $environment);
        $took = $wholeTook - $startTook;
        $share = ($whole - $start) / $took;
        $floor = self::floor($scratch->path.'/standin/phones', (int) round($took)) / $took;
        if (true === $input->getOption('json')) {
            $output->writeln(json_encode([
                'phones' => $numbers['phones'], 'watch_percent' => round(100 * $share, 2),
                'floor_percent' => round(100 * $floor, 2), 'watch_ratio' => round($share / $floor, 2),
            ], \JSON_THROW_ON_ERROR));
        } else {
            $output->writeln(sprintf(
                "%d phones\nfloor      %5.2f %% of a processor, to ask the phones once a second\n"
                    .'watch      %5.2f %% of a processor   %5.2f x the floor',
                $numbers['phones'], 100 * $floor, 100 * $share, $share / $floor,
            ));
        }

        return Command::SUCCESS;
    }

    private static function lay(string $folder, int $phones): void
    {
        Folder::make($folder);
        for ($n = 1; $n <= $phones; ++$n) {
            $isAndroid = 0 === $n % 2;
            DemoMaker::fresh($folder, [
                'serial' => sprintf('BENCH%05d', $n), 'maker' => 'Maker', 'model' => 'Model', 'os_version' => '1',
                'platform' => $isAndroid ? 'android' : 'ios', 'developer_options' => $isAndroid,
                'debugging' => $isAndroid, 'admitted' => true,
            ], Customer::keeper());
        }
    }

    /** @return float seconds of a processor */
    private static function floor(string $folder, int $rounds): float
    {
        $before = self::used(\getrusage() ?: []);
        for ($round = 0; $round < $rounds; ++$round) {
            $bench = new Bench($folder);
            foreach ($bench->serials() as $serial) {
                $bench->link($serial)->state();
            }
        }

        return self::used(\getrusage() ?: []) - $before;
    }

    /**
     * @param list<string>          $arguments
     * @param array<string, string> $environment
     *
     * @return array{float, float} seconds of a processor, and seconds
     */
    private function spend(array $arguments, array $environment): array
    {
        $begun = hrtime(true);
        $before = self::used(\getrusage(1) ?: []);
        $null = ['file', '/dev/null', 'r+'];
        // As "geschenk" starts it.
        $process = proc_open([
            \PHP_BINARY, '-d', 'pcov.enabled=0', '-d', 'opcache.enable_cli=1', '-d', 'opcache.jit=disable',
            $this->project.'/bin/console', ...$arguments,
        ], [$null, $null, $null], $pipes, $this->project, $environment);
        if (!is_resource($process) || 0 !== proc_close($process)) {
            throw new \RuntimeException('It could not be run: '.implode(' ', $arguments));
        }

        return [self::used(\getrusage(1) ?: []) - $before, (hrtime(true) - $begun) / 1e9];
    }

    /** @param array<array-key, mixed> $usage */
    private static function used(array $usage): float
    {
        $seconds = 0.0;
        foreach (['ru_utime', 'ru_stime'] as $part) {
            $of = [$usage[$part.'.tv_sec'] ?? 0, $usage[$part.'.tv_usec'] ?? 0];
            $seconds += (is_int($of[0]) ? $of[0] : 0) + (is_int($of[1]) ? $of[1] : 0) / 1e6;
        }

        return $seconds;
    }
}
