<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\UnusableInput;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('chats:compare', 'Holds what is at the right against what of the left was meant to arrive there')]
final class ChatsCompareCommand extends Command
{
    use ReportsUnusableInput;

    private const DIFFERENT = 1;

    public function __construct(
        private readonly Sources $sources,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('left', InputArgument::REQUIRED, 'Where the chats come from')
            ->addArgument('right', InputArgument::REQUIRED, 'Where they went')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
        $this->addKeyOption();
        $this->addChoiceOption();
        $this->addMomentOption();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            [$left, $right] = [$input->getArgument('left'), $input->getArgument('right')];
            $from = $this->sources->open(is_string($left) ? $left : '', true, self::key($input));
            $to = $this->sources->open(is_string($right) ? $right : '', true);
            $format = $to->format ?? throw UnusableInput::notMessengerData(is_string($right) ? $right : '');
            $scratch = ScratchFolder::make();
            Expectation::of(
                $format->capabilities(), self::moment($input), self::choices($input),
            )->build($from->chats, $scratch->path.'/expected.sqlite', new NoProgress());
            $result = (new Comparison(new ChatStore($scratch->path.'/expected.sqlite'), $to->chats))->run(
                $scratch->path.'/result.sqlite', new NoProgress(),
            );
            $isForMachine = true === $input->getOption('json');
            $isForMachine ? $this->printJson($output, $result) : $this->printText($output, $result);

            return $result->totals()->complete() ? Command::SUCCESS : self::DIFFERENT;
        });
    }

    private function printJson(OutputInterface $output, Result $result): void
    {
        $rows = array_map(static function (array $row): array {
            return [
                ...array_diff_key($row, ['id' => 1]),
                'first_expected' => Time::ofMilliseconds(
                    $row['first_expected'],
                ), 'first_found' => Time::ofMilliseconds($row['first_found']),
                'last_expected' => Time::ofMilliseconds(
                    $row['last_expected'],
                ), 'last_found' => Time::ofMilliseconds($row['last_found']),
            ];
        }, $result->conversations());
        self::json($output, ['totals' => $result->totals()
            ->toArray(), 'reasons' => (object) $result->reasons(), 'account' => $result->account(),
            'account_differences' => array_map(
                static fn (array $d): array => array_map(
                    static fn (?string $v): ?string => null === $v ? null : mb_scrub($v), $d,
                ),
                $result->accountDifferences(),
            ),
            'conversations' => $rows]);
    }

    private function printText(OutputInterface $output, Result $result): void
    {
        $totals = $result->totals();
        $output->writeln(
            sprintf(
                '%s messages: %s arrived, %s changed, %s left out, %s missing; %s extra',
                ...array_map(
                    number_format(...),
                    [
                        $totals->messages, $totals->arrived, $totals->changed, $totals->leftOut, $totals->missing,
                        $totals->extra,
                    ],
                ),
            ),
            OutputInterface::OUTPUT_RAW,
        );
        foreach ($result->accountDifferences() as $difference) {
            $called = $difference['called'] ?? $difference['subject'];
            $output->writeln(
                sprintf(
                    '%-9s %s%s', $difference['how'], str_replace('_', ' ', $difference['what']),
                    null === $called ? '' : ': '.mb_scrub($called),
                ),
                OutputInterface::OUTPUT_RAW,
            );
        }
        foreach ($result->conversations() as $row) {
            $output->writeln(
                sprintf(
                    '%-9s %6d arrived %5d changed %5d left out %5d missing %5d extra  %s%s', $row['verdict'],
                    $row['arrived'], $row['changed'], $row['left_out'], $row['missing'], $row['extra'],
                    mb_scrub($row['title'] ?? $row['key']),
                    [] === $row['settings'] ? '' : '  (settings differ: '.implode(', ', $row['settings']).')',
                ),
                OutputInterface::OUTPUT_RAW,
            );
        }
    }
}
