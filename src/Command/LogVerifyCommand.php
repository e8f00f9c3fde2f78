<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Log\LogChain;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('log:verify', 'Finds an entry of the log that was changed, taken out or put in')]
final class LogVerifyCommand extends Command
{
    public function __construct(private readonly LogChain $chain, private readonly Words $words)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $fault = $this->chain->firstFault();
        if (null !== $fault) {
            $output->writeln($this->words->say('log.fault', $fault));

            return Command::FAILURE;
        }
        ['id' => $next, 'before' => $hash] = $this->chain->end();
        $output->writeln($this->words->say('log.whole', ['entries' => $next - 1, 'hash' => $hash]));

        return Command::SUCCESS;
    }
}
