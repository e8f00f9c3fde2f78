<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\App\DataFolder;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\WayIn\Cable\CableWay;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Disk\UnsyncedDisk;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\PhoneFolder;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Times a whole backup that waits for the disk, file by file, against the same backup that waits for nothing, in turns
 * and on the disk that the shop's data lie on.
 */
#[AsCommand('bench:backup', 'Measures what it costs a backup to wait for the disk, against one that does not')]
final class BenchBackupCommand extends Command
{
    private const SEED = 77;

    public function __construct(
        private readonly ChatReading $reading,
        private readonly CableWay $cable,
        private readonly DataFolder $data,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('files', null, InputOption::VALUE_REQUIRED, 'How many attachments the phone has', '2000')
            ->addOption('kilobytes', null, InputOption::VALUE_REQUIRED, 'How large they are on average', '250')
            ->addOption(
                'rounds', null, InputOption::VALUE_REQUIRED, 'How often each is done; its best time counts', '3',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $numbers = [];
        foreach (['files', 'kilobytes', 'rounds'] as $name) {
            $told = $input->getOption($name);
            if (!is_string($told) || 1 !== preg_match('/^[1-9]\d{0,5}$/', $told)) {
                $output->writeln(
                    'Say with --files=2000 --kilobytes=250 --rounds=3 what to measure with, and how often.',
                );

                return Command::INVALID;
            }
            $numbers[$name] = (int) $told;
        }
        $here = $this->data->path.'/bench-backup-'.getmypid();
        try {
            $phone = $this->phone($here.'/phones', $numbers['files'], $numbers['kilobytes'] * 1_000);
            UnsyncedDisk::prepare();
            // Once for nothing, so that neither finds the phone's files cold.
            $this->seconds($phone, $here.'/warm', true);
            $with = $without = [];
            for ($round = 1; $round <= $numbers['rounds']; ++$round) {
                $with[] = $this->seconds($phone, "$here/with-$round", true);
                $without[] = $this->seconds($phone, "$here/without-$round", false);
            }
        } finally {
            UnsyncedDisk::$isWaitedFor = true;
            Folder::remove($here);
        }
        $figures = [
            'files' => $numbers['files'], 'kilobytes' => $numbers['kilobytes'], 'with_s' => round(
                min([\PHP_FLOAT_MAX, ...$with]), 3,
            ),
            'without_s' => round(min([\PHP_FLOAT_MAX, ...$without]), 3), 'ratio' => round(
                min([\PHP_FLOAT_MAX, ...$with]) / min([\PHP_FLOAT_MAX, ...$without]), 2,
            ),
        ];
        $output->writeln(true === $input->getOption('json') ? json_encode($figures, \JSON_THROW_ON_ERROR) : sprintf(
            "%s files of %d kB on average\nwaiting for the disk      %8.2f s   %6.2f x the floor\nwaiting for nothing "
                .'      %8.2f s',
            number_format($figures['files']), $figures['kilobytes'], $figures['with_s'], $figures['ratio'],
            $figures['without_s'],
        ));

        return Command::SUCCESS;
    }

    private function phone(string $folder, int $files, int $bytes): PhoneFolder
    {
        $state = [
            'serial' => 'BENCH0001', 'maker' => 'Kestrelworks', 'model' => 'Fathom 4', 'platform' => 'android',
            'os_version' => '14',
            'developer_options' => true, 'debugging' => true, 'admitted' => true,
        ];
        $phone = DemoMaker::phone(
            $folder, static fn (string $line) => null, Customer::baker(), self::SEED, $state,
        );
        $data = $phone->data(Hands::APP['id']);
        $chance = new Randomizer(new Mt19937(self::SEED));
        Folder::make($data.'/parcels/video');
        for ($n = 0; $n < $files; ++$n) {
            // From a tenth of the average to nearly twice as much.
            file_put_contents(
                "$data/parcels/video/bench-$n.bin",
                $chance->getBytes(max(1, $chance->getInt(intdiv($bytes, 10), intdiv($bytes * 19, 10)))),
            );
        }
        DemoMaker::rest($data);

        return $phone;
    }

    private function seconds(PhoneFolder $phone, string $backup, bool $isWaitedFor): float
    {
        UnsyncedDisk::$isWaitedFor = $isWaitedFor;
        $start = hrtime(true);
        $taking = new Taking(new FolderPhoneLink($phone), Hands::APP['id'], CableWay::now());
        (new BackupMaker($this->reading, new PlainVault(dirname($backup))))->make(
            $this->cable, $taking, basename($backup), [], new NoProgress(),
        );
        $seconds = (hrtime(true) - $start) / 1e9;
        Folder::remove($backup);
        // What one round left in the system's memory is not the next one's burden.
        exec('sync');

        return $seconds;
    }
}
