<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure\Shop;

use Geschenk\App\Demo\Measure\TakesSeeds;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Runs ShopTrial for many seeds, one kind of job after the other; what ended badly is printed with its story. */
#[AsCommand('faults:shop', 'Interrupts whole jobs, with worker and watch, and counts what did not end whole')]
final class FaultsShopCommand extends Command
{
    use TakesSeeds;

    public function __construct(#[Autowire('%kernel.project_dir%')] private readonly string $project)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->takeSeeds(300);
        $this->addOption('kind', null, InputOption::VALUE_REQUIRED, 'Jobs of this kind alone');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $seeds = self::seeds($input);
        $kinds = array_values(array_filter(TrialKind::all(), static fn (TrialKind $kind): bool => in_array(
            $input->getOption('kind'), [null, $kind->name], true,
        )));
        if (null === $seeds || [] === $kinds) {
            $output->writeln('Say with --seeds=300 --from=1 how many to run, and from which on. Kinds are: '.implode(
                ', ', array_map(static fn (TrialKind $kind): string => $kind->name, TrialKind::all()),
            ));

            return Command::INVALID;
        }
        $isJson = true === $input->getOption('json');
        $scratch = ScratchFolder::make();
        $trial = new ShopTrial($this->project, $scratch->path);
        $sums = ['seeds' => 0, 'whole' => 0, 'interrupted' => 0, 'by_hand' => 0];
        $bad = [];
        foreach ($seeds as $seed) {
            $kind = $kinds[$seed % count($kinds)];
            $outcome = $trial->run($kind, $seed);
            ++$sums['seeds'];
            $sums['whole'] += (int) $outcome['whole'];
            $sums['interrupted'] += $outcome['interrupted'];
            $sums['by_hand'] += $outcome['by_hand'];
            $line = sprintf(
                'seed %d, %s: %s (%s)', $seed, $kind->name,
                $outcome['whole'] ? 'whole' : implode('; ', $outcome['faults']), implode(', ', $outcome['story']),
            );
            if (!$outcome['whole']) {
                $bad[$seed] = $line;
            }
            if ($output->isVerbose() || (!$isJson && !$outcome['whole'])) {
                $output->writeln($line);
            }
        }
        if ($isJson) {
            $output->writeln(json_encode($sums + ['bad' => (object) $bad], \JSON_THROW_ON_ERROR));
        } else {
            foreach ($sums as $name => $sum) {
                $output->writeln(sprintf('%-16s %8s', strtr($name, '_', ' '), number_format($sum)));
            }
        }

        return [] === $bad ? Command::SUCCESS : Command::FAILURE;
    }
}
