<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('chats:inspect', 'Says what chats are at a path: whose, in which format, how many')]
final class ChatsInspectCommand extends Command
{
    use ReportsUnusableInput;

    public function __construct(
        private readonly Sources $sources,
        private readonly Words $words,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument(
            'path', InputArgument::REQUIRED, 'A messenger’s data folder, a backup or a chat store',
        )->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
        $this->addKeyOption();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            $path = $input->getArgument('path');
            $source = $this->sources->open(is_string($path) ? $path : '', false, self::key($input));
            $about = $source->chats->source();
            $summary = $source->chats->summary();
            $report = [
                'form' => $source->form, 'messenger' => $about->messenger, 'edition' => $about->edition,
                'platform' => $about->platform->value, 'generation' => $about->generation, 'account' => $about->account,
                'conversations' => $summary['conversations'], 'messages' => $summary['messages'],
                'messages_by_kind' => (object) $summary['messages_by_kind'],
                'attachments' => [
                    'total' => $summary['attachments'], 'present' => $summary['attachments_present'],
                    'missing' => $summary['attachments_missing'], 'bytes' => $summary['attachment_bytes'],
                ],
                'people' => $summary['people'], 'lost' => $summary['lost'],
                'loss_uncounted' => $source->chats->isLossUncounted(), 'first_message_at' => Time::ofMilliseconds(
                    $summary['first_at'],
                ), 'last_message_at' => Time::ofMilliseconds($summary['last_at']),
                'findings' => $source->chats->findings(),
            ];
            $exit = $summary['lost'] > 0 || $report['loss_uncounted'] ? ExitCode::NOT_ALL_READ : Command::SUCCESS;
            if (true === $input->getOption('json')) {
                self::json($output, $report);

                return $exit;
            }
            $output->writeln([
                sprintf(
                    '%s, edition %s, on %s, generation %d (%s)', $about->messenger, $about->edition,
                    $about->platform->properName(), $about->generation,
                    str_replace('_', ' ', $source->form),
                ),
                sprintf('account        %s', $about->account),
                sprintf('conversations  %s', number_format($summary['conversations'])),
                sprintf(
                    'messages       %s  (%s)', number_format($summary['messages']),
                    implode(
                        ', ',
                        array_map(
                            static fn (string $kind, int $n): string => $kind.' '.number_format($n),
                            array_keys($summary['messages_by_kind']), $summary['messages_by_kind'],
                        ),
                    ),
                ),
                sprintf(
                    'attachments    %s  (%s there, %s missing, %s MB)', number_format($summary['attachments']),
                    number_format($summary['attachments_present']), number_format($summary['attachments_missing']),
                    number_format($summary['attachment_bytes'] / 1e6, 1),
                ),
                sprintf('people         %s', number_format($summary['people'])),
                ...($summary['lost'] > 0 ? [
                    sprintf(
                        'damaged        %s messages can’t be read any more, in %d conversations',
                        number_format($summary['lost']),
                        count(array_filter($source->chats->overview(), static fn (array $c): bool => $c['lost'] > 0)),
                    ),
                ] : []),
                ...($report['loss_uncounted'] ? [
                    'damaged        in a way that hides how much can’t be read any more',
                ] : []),
                sprintf(
                    'first, last    %s, %s', $report['first_message_at'] ?? 'none',
                    $report['last_message_at'] ?? 'none',
                ),
            ], OutputInterface::OUTPUT_RAW);
            foreach ($source->chats->overview() as $row) {
                if ($row['lost'] > 0) {
                    $output->writeln(
                        sprintf(
                            'damaged        %s: %s of %s', mb_scrub($row['title'] ?? $row['key']),
                            number_format($row['lost']), number_format($row['lost'] + $row['messages']),
                        ),
                        OutputInterface::OUTPUT_RAW,
                    );
                }
            }
            foreach ($report['findings'] as $finding) {
                $output->writeln(
                    sprintf(
                        'listed         %s: %s (%d)', str_replace('_', ' ', $finding['code']),
                        mb_scrub($finding['subject']), $finding['count'],
                    ),
                    OutputInterface::OUTPUT_RAW,
                );
            }

            return $exit;
        });
    }
}
