<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Http\Time;
use Geschenk\App\View\LossView;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Words;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Merge\Held;
use Geschenk\Core\Merge\MergeReport;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\UnusableInput;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/** Exits with 1 when what was written does not read back as what was meant to be written. */
#[AsCommand('chats:merge', 'Unites chats with those that a phone holds, in the format of that phone, and says how')]
final class ChatsMergeCommand extends Command
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
        $this->addArgument('in', InputArgument::REQUIRED, 'What is brought: a messenger’s data folder or a backup')
            ->addArgument('there', InputArgument::REQUIRED, 'What the phone holds: its data folder, or its safety copy')
            ->addArgument('out', InputArgument::REQUIRED, 'The data folder to write; must not exist')
            ->addOption('plan', null, InputOption::VALUE_REQUIRED, 'Keeps what is expected in this file, a chat store')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
        $this->addKeyOption();
        $this->addChoiceOption();
        $this->addMomentOption();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            [$in, $where, $out] = [
                $input->getArgument('in'), $input->getArgument('there'), $input->getArgument('out'),
            ];
            $plan = $input->getOption('plan');
            if (!is_string($in) || !is_string($where) || !is_string($out)) {
                throw UnusableInput::noPlatform();
            }
            foreach ([$out, ...(is_string($plan) ? [$plan] : [])] as $new) {
                if (file_exists($new) || is_link($new)) {
                    throw UnusableInput::alreadyThere($new);
                }
            }
            $brought = $this->sources->open($in, true, self::key($input));
            $there = $this->sources->open($where, true);
            $files = $brought->files ?? throw UnusableInput::storeAlone($in);
            $held = new Held($there->chats, $there->files ?? throw UnusableInput::storeAlone($where));
            $moment = self::moment($input) ?? (int) (microtime(true) * 1000);
            // Written beside the target and renamed at the end, so that there is never half a folder under its name.
            $part = Folder::make(rtrim($out, '/').'.'.bin2hex(random_bytes(4)).'.part');
            try {
                $conversion = new Conversion(
                    $this->formats, $this->reading, $brought->chats, $files, $part, $there->chats->source()->platform,
                    $held,
                );
                $converted = $conversion->run($moment, self::choices($input), new NoProgress());
                $written = $conversion->expected()->writtenCount();
                if (is_string($plan) && !rename($part.'/'.Conversion::EXPECTED, $plan)) {
                    throw UnusableInput::unwritable($plan);
                }
                if (!rename($part.'/'.Conversion::DATA, $out)) {
                    throw UnusableInput::unwritable($out);
                }
            } finally {
                Folder::remove($part);
            }
            $merge = $converted->merge ?? throw new \LogicException('Nothing was merged.');
            if (true === $input->getOption('json')) {
                self::json($output, [
                    'out' => $out, 'messages' => $written, 'moment' => Time::ofMilliseconds($moment),
                    'losses' => $this->lossView->all(self::arrays($converted->losses), [], Language::DEFAULT),
                    'merge' => $merge->toArray(), 'rehearsal' => $converted->totals->toArray(),
                    'lost' => $brought->chats->summary()['lost'],
                    'loss_uncounted' => $brought->chats->isLossUncounted(),
                ]);
            } else {
                $output->writeln($this->words->say('cli.merged', [
                    'written' => $written, 'out' => $out, 'moment' => (string) Time::ofMilliseconds($moment),
                    'brought' => $merge->brought, 'both' => $merge->both, 'there' => $merge->there,
                    'dropped' => $merge->dropped,
                ], Language::DEFAULT), OutputInterface::OUTPUT_RAW);
                $this->tellSettled($output, $merge);
                $this->tellLosses($output, $converted->losses);
                $this->tellTotals($output, $converted->totals);
                $this->tellUnreadable($output, $brought->chats, $in);
                $this->tellUnreadable($output, $there->chats, $where);
            }

            return self::exitCode($converted->totals, $brought->chats, $there->chats);
        });
    }

    /** What differed on the two, how it was settled, and what of the phone is not taken along as it is. */
    private function tellSettled(OutputInterface $output, MergeReport $merge): void
    {
        $last = ['tag' => MergeReport::THERE === $merge->usedLast ? 'THERE' : 'IN'];
        $line = function (string $aspect, string $way, int $count) use ($output, $last): void {
            $output->writeln(sprintf(
                'settled %7s  %s: %s', number_format($count),
                $this->words->say('merge.'.$aspect, [], Language::DEFAULT),
                $this->words->say('merge.way_'.$way, $last, Language::DEFAULT),
            ), OutputInterface::OUTPUT_RAW);
        };
        foreach ($merge->conflicts as $conflict) {
            $line('aspect_'.$conflict['aspect'], $conflict['way'], $conflict['messages']);
        }
        foreach ($merge->around as $around) {
            $line('around_'.$around['aspect'], $around['way'], $around['count']);
        }
        foreach ($merge->findings as $finding) {
            $output->writeln(sprintf(
                'there           %s: %s (%d)', str_replace('_', ' ', $finding['code']), mb_scrub($finding['subject']),
                $finding['count'],
            ), OutputInterface::OUTPUT_RAW);
        }
        if ($merge->strangers > 0) {
            $output->writeln($this->words->say('merge.strangers', [
                'count' => $merge->strangers, 'tag' => 'THERE',
            ], Language::DEFAULT), OutputInterface::OUTPUT_RAW);
        }
    }
}
