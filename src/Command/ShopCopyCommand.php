<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\DataFolder;
use Geschenk\App\Words\Words;
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\Files\Folder;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('shop:copy', 'Keeps a copy of the records as they are now; the newest five are kept')]
final class ShopCopyCommand extends Command
{
    private const KEPT = 5;

    public function __construct(
        private readonly DataFolder $data,
        private readonly ClockInterface $clock,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        if (!is_file($this->data->records())) {
            return Command::SUCCESS;
        }
        $folder = Folder::make($this->data->copies());
        $path = $folder.'/'.$this->clock->now()->format('Ymd-His').'.sqlite';
        // A name is given once it is whole and on the disk.
        $part = $path.'.part';
        @unlink($part);
        $database = new \SQLite3($this->data->records(), \SQLITE3_OPEN_READWRITE);
        $database->enableExceptions(true);
        $database->busyTimeout(15_000);
        $copy = $database->prepare('VACUUM INTO ?') ?: throw DiskFailure::at('write', $part);
        $copy->bindValue(1, $part, \SQLITE3_TEXT);
        $copy->execute();
        $database->close();
        Disk::sync($part);
        Disk::move($part, $path);
        foreach (array_slice(array_reverse(glob($folder.'/*.sqlite') ?: []), self::KEPT) as $old) {
            Folder::remove($old);
        }
        $output->writeln($this->words->say('records.copied', ['path' => $path]));

        return Command::SUCCESS;
    }
}
