<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Guide\Guides;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/** For whoever has written a guide for a maker's phones. */
#[AsCommand('guides:check', 'Says of each guide whether it can be used, and what is wrong with it')]
final class GuidesCheckCommand extends Command
{
    public function __construct(private readonly Guides $guides)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $found = $this->guides->check();
        foreach ($found as $path => $wrong) {
            $output->writeln(null === $wrong ? '✓ '.$path : '✗ '.$path.': '.$wrong);
        }

        return [] === array_filter($found, is_string(...)) ? Command::SUCCESS : Command::FAILURE;
    }
}
