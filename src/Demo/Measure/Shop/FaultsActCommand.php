<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure\Shop;

use Geschenk\Core\Failure;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** The hands of ShopTrial: does what is told, line by line of its input, and tells what came of it. */
#[AsCommand('faults:act', 'Does single acts of faults:shop', hidden: true)]
final class FaultsActCommand extends Command
{
    public function __construct(private readonly ShopActs $acts)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('act', InputArgument::REQUIRED);
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $act = $input->getArgument('act');
        try {
            $output->writeln(json_encode($this->acts->do(is_string($act) ? $act : ''), \JSON_THROW_ON_ERROR));
        } catch (Failure $failure) {
            $output->writeln($failure->reason.' '.json_encode($failure->fields));

            return Command::FAILURE;
        }

        return Command::SUCCESS;
    }
}
