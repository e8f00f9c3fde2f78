<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Log\LogChain;
use Geschenk\App\Words\Words;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\UnusableInput;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('log:save', 'Writes the whole log as JSON Lines, with the hashes that log:verify looks at')]
final class LogSaveCommand extends Command
{
    use ReportsUnusableInput;

    public function __construct(private readonly LogChain $chain, private readonly Words $words)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED, 'A file that is not there yet');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            $path = $input->getArgument('file');
            if (!is_string($path) || file_exists($path)) {
                throw UnusableInput::alreadyThere(is_string($path) ? $path : '');
            }
            $file = Disk::open($path, 'x');
            $entries = 0;
            foreach ($this->chain->entries() as $entry) {
                Disk::write($file, json_encode(
                    ['params' => json_decode($entry['params'], true, 8, \JSON_THROW_ON_ERROR)] + $entry,
                    \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES,
                )."\n", $path);
                ++$entries;
            }
            Disk::finish($file, $path);
            $output->writeln($this->words->say('log.saved', ['entries' => $entries, 'path' => $path]));

            return Command::SUCCESS;
        });
    }
}
