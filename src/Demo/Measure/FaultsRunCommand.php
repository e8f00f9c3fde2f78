<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\Core\Files\Durable\ScratchFolder;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** Runs FaultTrial for many seeds and counts what came of it; a seed that ended badly is printed with its story. */
#[AsCommand('faults:run', 'Interrupts backup and restore by every fault, and counts what did not end whole')]
final class FaultsRunCommand extends Command
{
    use TakesSeeds;

    protected function configure(): void
    {
        $this->takeSeeds(1_000);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $seeds = self::seeds($input);
        if (null === $seeds) {
            $output->writeln('Say with --seeds=1000 --from=1 how many to run, and from which on.');

            return Command::INVALID;
        }
        $isJson = true === $input->getOption('json');
        $scratch = ScratchFolder::make();
        $trial = new FaultTrial($scratch->path);
        $sums = [
            'seeds' => 0, 'whole' => 0, 'lost_silently' => 0, 'giving_changed' => 0, 'between' => 0, 'interrupted' => 0,
        ];
        $bad = [];
        foreach ($seeds as $seed) {
            $outcome = $trial->run($seed);
            ++$sums['seeds'];
            foreach (['whole', 'lost_silently', 'giving_changed', 'between', 'interrupted'] as $name) {
                $sums[$name] += (int) $outcome[$name];
            }
            if (!$outcome['whole'] || $outcome['giving_changed'] || $outcome['between'] > 0) {
                $bad[$seed] = $outcome['story'];
            }
        }
        if ($isJson) {
            $output->writeln(json_encode($sums + ['bad' => (object) $bad], \JSON_THROW_ON_ERROR));
        } else {
            foreach ($sums as $name => $sum) {
                $output->writeln(sprintf('%-16s %8s', strtr($name, '_', ' '), number_format($sum)));
            }
            foreach ($bad as $seed => $story) {
                $output->writeln("seed $seed: ".implode(', ', $story));
            }
        }

        return [] === $bad ? Command::SUCCESS : Command::FAILURE;
    }
}
