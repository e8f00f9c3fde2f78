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
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\PhoneFolder;
use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * A whole backup of many small files and some large ones, on the disk and read back, against what the system's own
 * programs take to copy the same files and to hash them.
 */
#[AsCommand('bench:copy', 'Measures a backup of 2 GB against cp and sha256sum of the same files')]
final class BenchCopyCommand extends Command
{
    private const SEED = 78;
    private const SMALL = 20_000;
    private const LARGE = 6;

    public function __construct(
        private readonly ChatReading $reading,
        private readonly CableWay $cable,
        private readonly DataFolder $data,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('megabytes', null, InputOption::VALUE_REQUIRED, 'How much there is to copy', '2000')
            ->addOption('rounds', null, InputOption::VALUE_REQUIRED, 'How often; the best time counts', '2')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $numbers = [];
        foreach (['megabytes', 'rounds'] as $name) {
            $told = $input->getOption($name);
            if (!is_string($told) || 1 !== preg_match('/^[1-9]\d{0,5}$/', $told)) {
                $output->writeln('Say with --megabytes=2000 --rounds=2 how much to copy, and how often.');

                return Command::INVALID;
            }
            $numbers[$name] = (int) $told;
        }
        $here = $this->data->path.'/bench-copy-'.getmypid();
        $floor = $copy = [];
        try {
            $phone = $this->phone($here.'/phones', $numbers['megabytes'] * 1_000_000);
            for ($round = 1; $round <= $numbers['rounds']; ++$round) {
                $floor[] = Cost::seconds(
                    static fn () => self::copyAndHash($phone->data(Hands::APP['id']), "$here/copy-$round"),
                );
                $maker = new BackupMaker($this->reading, new PlainVault($here));
                $copy[] = Cost::seconds(fn () => $maker->make(
                    $this->cable, new Taking(new FolderPhoneLink($phone), Hands::APP['id'], CableWay::now()),
                    "backup-$round", [], new NoProgress(),
                ));
                // Removed at the end alone: a file system that has just lost many files is slow to make new ones.
                exec('sync');
            }
        } finally {
            Folder::remove($here);
        }
        $figures = [
            'megabytes' => $numbers['megabytes'], 'files' => self::SMALL + self::LARGE,
            'floor_s' => round(min([\PHP_FLOAT_MAX, ...$floor]), 2),
            'copy_s' => round(min([\PHP_FLOAT_MAX, ...$copy]), 2),
            'copy_ratio' => round(min([\PHP_FLOAT_MAX, ...$copy]) / min([\PHP_FLOAT_MAX, ...$floor]), 2),
            'peak_mb' => round(memory_get_peak_usage(true) / 1e6, 1),
        ];
        $output->writeln(true === $input->getOption('json') ? json_encode($figures, \JSON_THROW_ON_ERROR) : sprintf(
            "%s MB in %s files\nfloor: cp and sha256sum  %7.2f s\nbackup, read back       %8.2f s   %5.2f x the floor\n"
                .'memory at most          %8.1f MB',
            number_format($figures['megabytes']), number_format($figures['files']), $figures['floor_s'],
            $figures['copy_s'], $figures['copy_ratio'], $figures['peak_mb'],
        ));

        return Command::SUCCESS;
    }

    /** As a careful person would: copied, on the disk, and hashed. */
    private static function copyAndHash(string $from, string $to): void
    {
        $command = sprintf(
            'cp -r %1$s %2$s && sync -f %2$s && find %2$s -type f -print0 | xargs -0 sha256sum > /dev/null',
            escapeshellarg($from), escapeshellarg($to),
        );
        exec($command, $lines, $status);
        if (0 !== $status) {
            throw new \RuntimeException('The files could not be copied.');
        }
    }

    /** Half of the bytes in many small files, half in a few large ones. */
    private function phone(string $folder, int $bytes): PhoneFolder
    {
        $phone = DemoMaker::phone(
            $folder, static fn (string $line) => null, Customer::baker(), self::SEED,
            [
                'serial' => 'BENCH0002', 'maker' => 'Kestrelworks', 'model' => 'Fathom 4', 'platform' => 'android',
                'os_version' => '14', 'developer_options' => true, 'debugging' => true, 'admitted' => true,
            ],
        );
        $data = $phone->data(Hands::APP['id']);
        $chance = new Randomizer(new Xoshiro256StarStar(self::SEED));
        Folder::make($data.'/parcels/photo');
        Folder::make($data.'/parcels/video');
        $average = intdiv($bytes, 2 * self::SMALL);
        for ($n = 0; $n < self::SMALL; ++$n) {
            $size = $chance->getInt(intdiv($average, 10), intdiv($average * 19, 10));
            file_put_contents("$data/parcels/photo/bench-$n.bin", $chance->getBytes(max(1, $size)));
        }
        $piece = $chance->getBytes(1_000_000);
        for ($n = 0; $n < self::LARGE; ++$n) {
            $film = fopen("$data/parcels/video/bench-$n.bin", 'w') ?: throw new \RuntimeException('No film.');
            for ($left = intdiv($bytes, 2 * self::LARGE); $left > 0; $left -= strlen($piece)) {
                fwrite($film, substr($piece, 0, max(0, $left)));
            }
            fclose($film);
        }
        DemoMaker::rest($data);

        return $phone;
    }
}
