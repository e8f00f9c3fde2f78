<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Http\Time;
use Geschenk\App\View\LossView;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Words;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Durable\Folder;
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

/** Exits with 1 when what was written does not read back as what was meant to be written. */
#[AsCommand('chats:convert', 'Writes chats in the format of the other platform and lists every loss')]
final class ChatsConvertCommand extends Command
{
    use ReportsUnusableInput;
    use TellsConversion;

    public function __construct(
        private readonly Formats $formats,
        private readonly Sources $sources,
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
            $source = $this->sources->open($in, true, self::key($input));
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
                    'rehearsal' => $totals?->toArray(), 'lost' => $source->chats->summary()['lost'],
                    'loss_uncounted' => $source->chats->isLossUncounted(),
                ]);
            } else {
                $output->writeln($this->words->say('cli.converted', [
                    'written' => $written, 'read' => $read, 'out' => $out,
                    'moment' => (string) Time::ofMilliseconds($moment),
                ], Language::DEFAULT), OutputInterface::OUTPUT_RAW);
                $this->tellLosses($output, $losses);
                null === $totals ?: $this->tellTotals($output, $totals);
                $this->tellUnreadable($output, $source->chats, $in);
            }

            return self::exitCode($totals, $source->chats);
        });
    }
}
