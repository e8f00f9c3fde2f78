<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Http\Time;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\ScratchFolder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\ChatSource;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

#[AsCommand('chats:convert', 'Writes chats in the format of the other platform and lists every loss')]
final class ChatsConvertCommand extends Command
{
    use ReportsUnusableInput;

    public function __construct(private readonly Formats $formats, private readonly ChatReading $reading)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('in', InputArgument::REQUIRED, 'A messenger’s data folder or a backup')
            ->addArgument('out', InputArgument::REQUIRED, 'The data folder to write; must not exist')
            ->addOption('to', null, InputOption::VALUE_REQUIRED, 'android or ios')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
        $this->addKeyOption();
        $this->addChoiceOption();
        $this->addMomentOption();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->answer($output, function () use ($input, $output): int {
            [$in, $out, $to] = [$input->getArgument('in'), $input->getArgument('out'), $input->getOption('to')];
            if (!is_string($in) || !is_string($out) || !in_array($to, ['android', 'ios'], true)) {
                throw new UnusableInput('Say with --to=android or --to=ios which platform to write for.');
            }
            if (file_exists($out) || is_link($out)) {
                throw UnusableInput::alreadyThere($out);
            }
            $source = ChatSource::open($in, $this->formats, true, new NoProgress(), self::key($input), $this->reading);
            if (null === $source->files) {
                throw new UnusableInput(sprintf('%s is a chat store alone and has no attachments to convert. Give the backup it belongs to, or the data folder.', $in));
            }
            $messenger = $source->chats->source()->messenger;
            $format = $this->formats->writing($messenger, $to);
            $writer = $format?->writer();
            if (null === $format || null === $writer) {
                throw UnusableInput::noWriter($messenger, $to);
            }
            $moment = self::moment($input) ?? (int) (microtime(true) * 1000);
            $expectation = Expectation::of($format->capabilities(), $moment, self::choices($input));
            ['losses' => $losses, 'written' => $written] = $this->convert($source->chats, $source->files, $expectation, $writer, $out);
            if ($input->getOption('json')) {
                self::json($output, ['out' => $out, 'platform' => $to, 'messages' => $written, 'messages_read' => $source->chats->messageCount(),
                    'moment' => Time::ofMilliseconds($moment), 'losses' => array_map(static fn (Loss $loss): array => $loss->toArray(), $losses)]);

                return Command::SUCCESS;
            }
            $output->writeln(sprintf('%s of %s messages written to %s, judged at %s', number_format($written), number_format($source->chats->messageCount()), $out, Time::ofMilliseconds($moment)), OutputInterface::OUTPUT_RAW);
            foreach ($losses as $loss) {
                $output->writeln(sprintf('%-22s %7s messages, %4s conversations  %s%s', $loss->rule, number_format($loss->messages), number_format($loss->conversations), $loss->sentence, count($loss->choices) > 1 ? ' Chosen: '.$loss->choice->words.'.' : ''), OutputInterface::OUTPUT_RAW);
            }

            return Command::SUCCESS;
        });
    }

    /**
     * Writes beside the target and renames at the end, so that there is never half a folder under its name.
     *
     * @return array{losses: list<Loss>, written: int}
     */
    private function convert(ChatStore $chats, AttachmentFiles $files, Expectation $expectation, Writer $writer, string $out): array
    {
        $scratch = ScratchFolder::make();
        $losses = $expectation->build($chats, $scratch->path.'/expected.sqlite', new NoProgress());
        $expected = new ChatStore($scratch->path.'/expected.sqlite');
        $part = rtrim($out, '/').'.'.bin2hex(random_bytes(4)).'.part';
        try {
            $writer->write($expected, $files, $part, new NoProgress());
            if (!rename($part, $out)) {
                throw new UnusableInput(sprintf('%s can’t be written.', $out));
            }
        } finally {
            Folder::remove($part);
        }

        return ['losses' => $losses, 'written' => $expected->writtenCount()];
    }
}
