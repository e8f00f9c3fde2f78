<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\DataFolder;
use Geschenk\App\RecordsCopy;
use Geschenk\App\Words\Words;
use Geschenk\Core\Files\Durable\Folder;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('shop:copy', 'Keeps a copy of the records as they are now; the newest five are kept')]
final class ShopCopyCommand extends Command
{
    private const KEPT = 5;

    public function __construct(
        private readonly DataFolder $data,
        private readonly RecordsCopy $copy,
        private readonly ClockInterface $clock,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::OPTIONAL, 'Where to, instead of beside the records');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $asked = $input->getArgument('file');
        if (is_string($asked)) {
            $this->copy->make($asked);

            return Command::SUCCESS;
        }
        if (!is_file($this->data->records())) {
            return Command::SUCCESS;
        }
        $folder = Folder::make($this->data->copies());
        $path = $folder.'/'.$this->clock->now()->format(RecordsCopy::NAME).'.sqlite';
        $this->copy->make($path);
        foreach (array_slice(array_reverse(glob($folder.'/*.sqlite') ?: []), self::KEPT) as $old) {
            Folder::remove($old);
        }
        $output->writeln($this->words->say('records.copied', ['path' => $path]));

        return Command::SUCCESS;
    }
}
