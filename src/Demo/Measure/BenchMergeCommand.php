<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Merge\MergeReport;
use Geschenk\Core\Merge\Union;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Standin\Demo\BigSource;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Times merging many messages into a phone that holds a fifth as many, half of which both have, against a floor of the
 * same run: the united rows, moved into the same tables and indexes by plain SQL. One in ten of what both have is in
 * another state. The two sets are made in processes of their own, so that the memory is that of merging alone.
 */
#[AsCommand('bench:merge', 'Measures merging into a phone that holds chats, as multiples of a floor of the same run')]
final class BenchMergeCommand extends Command
{
    private const SEED = 2_041;

    public function __construct(private readonly Formats $formats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('messages', null, InputOption::VALUE_REQUIRED, 'How many messages are brought', '500000')
            ->addOption(
                'rounds', null, InputOption::VALUE_REQUIRED, 'How often it is merged; the best time counts', '3',
            )
            ->addOption('make', null, InputOption::VALUE_REQUIRED, 'Only make the two sets of chats in this folder')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        [$wanted, $asked] = [$input->getOption('messages'), $input->getOption('rounds')];
        if (!is_string($wanted) || 1 !== preg_match('/^[1-9]\d{1,8}$/', $wanted)
            || !is_string($asked) || 1 !== preg_match('/^[1-9]\d?$/', $asked)) {
            $output->writeln('Say with --messages=500000 how many are brought, and with --rounds=3 how often.');

            return Command::INVALID;
        }
        $only = $input->getOption('make');
        if (is_string($only)) {
            $this->make($only, (int) $wanted);

            return Command::SUCCESS;
        }
        $scratch = ScratchFolder::make();
        $here = $scratch->path;
        $this->makeApart($here, (int) $wanted);
        $times = ['merge' => [], 'floor' => []];
        $report = null;
        for ($round = 1; $round <= (int) $asked; ++$round) {
            $united = $here.'/united.sqlite';
            $times['merge'][] = Cost::seconds(static function () use ($here, $united, &$report): void {
                $union = new Union(new ChatStore($here.'/brought.sqlite'), new ChatStore($here.'/there.sqlite'));
                $report = $union->build($united, new NoProgress());
            });
            $times['floor'][] = Cost::seconds(static fn () => self::floor($united, $here.'/floor.sqlite'));
            Folder::remove($united);
            Folder::remove($here.'/floor.sqlite');
        }
        if (!$report instanceof MergeReport) {
            throw new \LogicException('Nothing was merged.');
        }
        [$merge, $floor] = [min($times['merge'] ?: [0.0]), min($times['floor'] ?: [0.0])];
        $figures = [
            'brought' => $report->brought + $report->both, 'there' => $report->there + $report->both,
            'both' => $report->both, 'settled' => $report->settled, 'floor_s' => round($floor, 3),
            'merge_s' => round($merge, 3), 'merge_ratio' => round($merge / $floor, 2),
            'peak_mb' => round(Cost::peakBytes() / 1e6, 1),
        ];
        if (true === $input->getOption('json')) {
            $output->writeln(json_encode($figures, \JSON_THROW_ON_ERROR));

            return Command::SUCCESS;
        }
        $output->writeln(sprintf(
            '%s messages into a phone with %s, %s on both, %s of them in another state',
            number_format($figures['brought']), number_format($figures['there']), number_format($figures['both']),
            number_format($figures['settled']),
        ));
        $output->writeln(sprintf('%-20s %8.2f s', 'floor', $floor));
        $output->writeln(sprintf('%-20s %8.2f s   %6.2f x the floor', 'merge', $merge, $merge / $floor));
        $output->writeln(sprintf('peak memory of the process %.1f MB', $figures['peak_mb']));

        return Command::SUCCESS;
    }

    private function makeApart(string $folder, int $messages): void
    {
        $command = sprintf(
            '%s -d memory_limit=1G %s bench:merge --make=%s --messages=%d', escapeshellarg(\PHP_BINARY),
            escapeshellarg(dirname(__DIR__, 3).'/bin/console'), escapeshellarg($folder), $messages,
        );
        exec($command, $said, $code);
        if (0 !== $code) {
            throw new \RuntimeException('The chats to measure with could not be made: '.implode(' ', $said));
        }
    }

    /** Of each eleven messages nine are brought alone, one is on both, one is on the phone alone. */
    private function make(string $folder, int $messages): void
    {
        BigSource::make($folder.'/source', intdiv($messages * 11, 10), self::SEED);
        (new ReadingHere($this->formats))->read(
            $folder.'/source', new FolderFiles($folder.'/source'), $folder.'/all.sqlite', new NoProgress(),
        );
        $all = new ChatStore($folder.'/all.sqlite');
        foreach (['brought' => [0, 9], 'there' => [9, 10]] as $name => [$from, $to]) {
            $writer = new StoreWriter("$folder/$name.sqlite");
            $all->copyFrame($writer);
            foreach ($all->conversations() as $stored) {
                $id = $writer->conversation($stored->conversation);
                foreach ($all->messages($stored->id) as $message) {
                    $part = $message->id % 11;
                    if ($part >= $from && $part <= $to) {
                        $isOther = 'there' === $name && 0 === $message->id % 110 % 10;
                        $writer->message(
                            $id, $isOther ? $message->message->with(['starred' => true]) : $message->message,
                        );
                    }
                }
            }
            $writer->finish();
        }
    }

    /** Moves the united rows into the same tables and indexes. */
    private static function floor(string $united, string $path): void
    {
        $database = Database::create($path);
        $database->run('ATTACH ? AS w', [$united]);
        $database->execute('PRAGMA page_size = 8192;'.implode(';', StoreSchema::TABLES).';BEGIN');
        foreach (StoreSchema::TABLES as $table => $statement) {
            // With its columns named and a condition, or SQLite copies pages of bytes instead of moving rows.
            $columns = implode(', ', Selection::columns($statement));
            $database->execute("INSERT INTO main.$table ($columns) SELECT $columns FROM w.$table WHERE 1");
        }
        $database->execute(StoreSchema::INDEXES.'COMMIT');
        $database->close();
    }
}
