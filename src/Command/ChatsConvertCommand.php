<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Http\Time;
use Geschenk\App\View\LossView;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Words;
use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\UnusableInput;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Exits with 1 when what was written does not read back as what was meant to be written.
 *
 * @phpstan-import-type LossArray from Loss
 */
#[AsCommand('chats:convert', 'Writes chats in the format of the other platform and lists every loss')]
final class ChatsConvertCommand extends Command
{
    use ReportsUnusableInput;

    public function __construct(
        private readonly Formats $formats,
        private readonly ChatReading $reading,
        private readonly Words $words,
        private readonly LossView $lossView,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('in', InputArgument::REQUIRED, 'A messenger’s data folder or a backup')
            ->addArgument('out', InputArgument::REQUIRED, 'The data folder to write; must not exist')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'android or ios')
            ->addOption('no-rehearsal', null, InputOption::VALUE_NONE, 'Write only, without reading back')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
        $this->addKeyOption();
        $this->addChoiceOption();
        $this->addMomentOption();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            [$in, $out, $to] = [$input->getArgument('in'), $input->getArgument('out'), $input->getOption('to')];
            $platform = is_string($to) ? Platform::tryFrom($to) : null;
            if (!is_string($in) || !is_string($out) || null === $platform) {
                throw UnusableInput::noPlatform();
            }
            if (file_exists($out) || is_link($out)) {
                throw UnusableInput::alreadyThere($out);
            }
            $source = ChatSource::open($in, $this->formats, true, new NoProgress(), self::key($input), $this->reading);
            if (null === $source->files) {
                throw UnusableInput::storeAlone($in);
            }
            $moment = self::moment($input) ?? (int) (microtime(true) * 1000);
            $choices = self::choices($input);
            // Written beside the target and renamed at the end, so that there is never half a folder under its name.
            $part = Folder::make(rtrim($out, '/').'.'.bin2hex(random_bytes(4)).'.part');
            try {
                $conversion = new Conversion(
                    $this->formats, $this->reading, $source->chats, $source->files, $part, $platform,
                );
                $totals = null;
                if (true === $input->getOption('no-rehearsal')) {
                    $losses = $conversion->plan($moment, $choices, new NoProgress());
                    $conversion->write(new NoProgress());
                } else {
                    $converted = $conversion->run($moment, $choices, new NoProgress());
                    [$losses, $totals] = [$converted->losses, $converted->totals];
                }
                $written = $conversion->expected()->writtenCount();
                if (!rename($part.'/'.Conversion::DATA, $out)) {
                    throw UnusableInput::unwritable($out);
                }
            } finally {
                Folder::remove($part);
            }
            $read = $source->chats->messageCount();
            if (true === $input->getOption('json')) {
                self::json($output, [
                    'out' => $out, 'platform' => $platform->value, 'messages' => $written, 'messages_read' => $read,
                    'moment' => Time::ofMilliseconds($moment),
                    'losses' => $this->lossView->all(self::arrays($losses), [], Language::DEFAULT),
                    'rehearsal' => $totals?->toArray(),
                ]);
            } else {
                $this->tell($output, [
                    'written' => $written, 'read' => $read, 'out' => $out,
                    'moment' => (string) Time::ofMilliseconds($moment),
                ], $losses, $totals);
            }

            return null === $totals || $totals->complete() ? Command::SUCCESS : Command::FAILURE;
        });
    }

    /**
     * @param array<string, string|int> $about
     * @param list<Loss>                $losses
     */
    private function tell(OutputInterface $output, array $about, array $losses, ?Totals $totals): void
    {
        $raw = OutputInterface::OUTPUT_RAW;
        $output->writeln($this->words->say('cli.converted', $about, Language::DEFAULT), $raw);
        foreach ($this->lossView->all(self::arrays($losses), [], Language::DEFAULT) as $n => $row) {
            $loss = $losses[$n];
            $chosen = array_column($row['choices'], 'words', 'key')[$loss->choice->key] ?? '';
            $output->writeln(sprintf(
                '%-22s %7s messages, %4s conversations  %s%s', $loss->rule, number_format($loss->messages),
                number_format($loss->conversations), $row['sentence'],
                count($loss->choices) > 1 ? ' '.$chosen.'.' : '',
            ), $raw);
        }
        if (null !== $totals) {
            $said = $totals->complete() ? 'cli.adds_up' : 'cli.does_not_add_up';
            $output->writeln($this->words->say($said, [
                'messages' => $totals->messages, 'missing' => $totals->missing + $totals->addedMissing,
                'extra' => $totals->extra, 'settings' => $totals->settingsDiffering + $totals->accountDiffering,
            ], Language::DEFAULT), $raw);
        }
    }

    /**
     * @param list<Loss> $losses
     *
     * @return list<LossArray>
     */
    private static function arrays(array $losses): array
    {
        return array_map(static fn (Loss $loss): array => $loss->toArray(), $losses);
    }
}
