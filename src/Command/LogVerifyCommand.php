<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Log\LogChain;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('log:verify', 'Finds an entry of the log that was changed, taken out or put in')]
final class LogVerifyCommand extends Command
{
    public function __construct(private readonly LogChain $chain, private readonly Words $words)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption(
            'holds', null, InputOption::VALUE_REQUIRED,
            'NUMBER:HASH of an entry, as they were written down elsewhere: whether it is still the same',
        );
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $fault = $this->chain->firstFault();
        if (null !== $fault) {
            $output->writeln($this->words->say('log.fault', $fault));

            return Command::FAILURE;
        }
        $told = $input->getOption('holds');
        if (is_string($told)) {
            $isRight = 1 === preg_match('/^(\d{1,12}):([0-9a-fA-F]{64})$/D', $told, $parts)
                && $this->chain->holds((int) $parts[1], $parts[2]);
            if (!$isRight) {
                $output->writeln($this->words->say('log.holds_not', ['told' => $told]));

                return Command::FAILURE;
            }
        }
        ['id' => $next, 'before' => $hash] = $this->chain->end();
        $output->writeln($this->words->say('log.whole', ['entries' => $next - 1, 'hash' => $hash]));

        return Command::SUCCESS;
    }
}
