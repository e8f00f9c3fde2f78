<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Ios\IosSchema;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Standin\Demo\BigSource;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Times reading, writing, reading back and comparing of many messages against a floor of the same run: the rows that
 * were written, moved into the same tables and indexes by plain SQL. Planning the losses counts as part of writing.
 */
#[AsCommand('bench:convert', 'Measures a conversion of many messages, as multiples of a floor of the same run')]
final class BenchConvertCommand extends Command
{
    private const SEED = 2_041;

    public function __construct(private readonly Formats $formats)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('messages', null, InputOption::VALUE_REQUIRED, 'How many messages', '1000000')
            ->addOption(
                'rounds', null, InputOption::VALUE_REQUIRED, 'How often each step is done; its best time counts', '3',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $wanted = $input->getOption('messages');
        $asked = $input->getOption('rounds');
        if (!is_string($wanted) || 1 !== preg_match(
            '/^[1-9]\d{0,8}$/', $wanted,
        ) || !is_string($asked) || 1 !== preg_match('/^[1-9]\d?$/', $asked)) {
            $output->writeln(
                'Say with --messages=1000000 how many messages to measure with, and with --rounds=3 how often.',
            );

            return Command::INVALID;
        }
        $scratch = ScratchFolder::make();
        $here = $scratch->path;
        $messages = BigSource::make($here.'/source', (int) $wanted, self::SEED);
        // What else the machine does only ever adds: each step is done in every round, and its best time counts.
        $rounds = [];
        $none = new NoProgress();
        $reading = new ReadingHere($this->formats);
        $files = new FolderFiles($here.'/source');
        for ($round = 1; $round <= (int) $asked; ++$round) {
            $there = sprintf('%s/round-%d', $here, $round);
            Folder::make($there);
            $chats = $there.'/chats.sqlite';
            $read = Cost::seconds(static fn () => $reading->read($here.'/source', $files, $chats, $none));
            $conversion = new Conversion(
                $this->formats, $reading, new ChatStore($chats), $files, $there, Platform::Ios,
            );
            $rounds[] = [
                'read' => $read,
                'plan' => Cost::seconds(static fn () => $conversion->plan((int) (microtime(true) * 1000), [], $none)),
                'write' => Cost::seconds(static fn () => $conversion->write($none)),
                'floor' => Cost::seconds(static fn () => self::floor(
                    $there.'/'.Conversion::DATA.'/'.IosSchema::DATABASE, $there.'/floor.sqlite',
                )),
                'readback' => Cost::seconds(static fn () => $conversion->readBack($none)),
                'compare' => Cost::seconds(static fn () => $conversion->compare($none)),
            ];
            $this->ensureAllArrived($there.'/'.Conversion::REHEARSAL, $messages);
            Folder::remove($there);
        }
        $seconds = array_map(
            static fn (string $step): float => min([\PHP_FLOAT_MAX, ...array_column($rounds, $step)]),
            array_combine(array_keys($rounds[0]), array_keys($rounds[0])),
        );
        $convert = $seconds['read'] + $seconds['plan'] + $seconds['write'];
        $check = $seconds['readback'] + $seconds['compare'];
        $figures = [
            'messages' => $messages, 'floor_s' => round($seconds['floor'], 3), 'read_s' => round(
                $seconds['read'], 3,
            ), 'write_s' => round($seconds['plan'] + $seconds['write'], 3), 'plan_s' => round($seconds['plan'], 3),
            'readback_s' => round(
                $seconds['readback'], 3,
            ), 'compare_s' => round($seconds['compare'], 3), 'convert_ratio' => round(
                $convert / $seconds['floor'], 2,
            ), 'check_ratio' => round($check / $seconds['floor'], 2), 'peak_mb' => round(Cost::peakBytes() / 1e6, 1),
        ];
        if (true === $input->getOption('json')) {
            $output->writeln(json_encode($figures, \JSON_THROW_ON_ERROR));

            return Command::SUCCESS;
        }
        $output->writeln(sprintf('%s messages', number_format($messages)));
        foreach ([
            'floor' => $seconds['floor'], 'read' => $seconds['read'], 'write' => $seconds['plan'] + $seconds['write'],
            'read back' => $seconds['readback'], 'compare' => $seconds['compare'], 'read + write' => $convert,
            'read back + compare' => $check,
        ] as $name => $time) {
            $output->writeln(
                sprintf(
                    '%-20s %8.2f s   %6.2f x the floor   %9s messages a second', $name, $time,
                    $time / $seconds['floor'], number_format($messages / $time),
                ),
            );
        }
        $output->writeln(sprintf('peak memory of the process %.1f MB', Cost::peakBytes() / 1e6));

        return Command::SUCCESS;
    }

    private function ensureAllArrived(string $result, int $messages): void
    {
        $totals = (new Result($result))->totals();
        if (!$totals->complete() || $totals->messages !== $messages) {
            throw new \LogicException(
                'The measured conversion does not tally: '.json_encode($totals->toArray(), \JSON_THROW_ON_ERROR),
            );
        }
    }

    /** Moves the rows that the writer wrote into the same tables and indexes. */
    private static function floor(string $written, string $path): void
    {
        $database = Database::create($path);
        $database->run('ATTACH ? AS w', [$written]);
        $database->execute(implode(';', IosSchema::TABLES).';BEGIN');
        foreach (IosSchema::TABLES as $table => $statement) {
            // With its columns named and a condition, or SQLite copies pages of bytes instead of moving rows.
            $columns = implode(', ', Selection::columns($statement));
            $database->execute("INSERT INTO main.$table ($columns) SELECT $columns FROM w.$table WHERE 1");
        }
        $database->execute(IosSchema::INDEXES.'COMMIT');
        $database->close();
    }
}
