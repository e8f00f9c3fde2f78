<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidReader;
use Geschenk\Core\Messenger\Otterpost\Ios\IosReader;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Times the main demo phone's chats through reading, planning, writing, reading back and comparing. Seconds depend on
 * the machine, so each is also given as a ratio to a floor of the same run: copying and hashing the same files.
 */
#[AsCommand('bench:chats', 'Measures the way of the chats, as ratios to a floor of the same run')]
final class BenchChatsCommand extends Command
{
    public function __construct(private readonly Formats $formats)
    {
        parent::__construct();
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $scratch = ScratchFolder::make();
        $here = $scratch->path;
        $phone = DemoMaker::awkwardPhone(
            $here.'/phones', static fn (string $line) => null, Customer::secretary(), 1,
            [
                'serial' => 'BENCH0001', 'maker' => 'M', 'model' => 'M', 'platform' => 'android', 'os_version' => '1',
                'developer_options' => true, 'debugging' => true, 'admitted' => true,
            ],
        )->data('otterpost');
        $floor = Cost::seconds(static function () use ($phone, $here): void {
            $hashes = [];
            foreach (Folder::files($phone) as $file) {
                Folder::make(dirname($here.'/floor/'.$file));
                copy($phone.'/'.$file, $here.'/floor/'.$file);
                $hashes[] = hash_file('sha256', $here.'/floor/'.$file);
            }
        });
        $none = new NoProgress();
        $reading = new ReadingHere($this->formats);
        $files = new FolderFiles($phone);
        $read = Cost::seconds(static fn () => $reading->read($phone, $files, $here.'/chats.sqlite', $none));
        $chats = new ChatStore($here.'/chats.sqlite');
        $conversion = new Conversion($this->formats, $reading, $chats, $files, $here, Platform::Ios);
        $moment = (int) (microtime(true) * 1000);
        $steps = [
            'floor: copy and hash' => $floor,
            'read Android' => $read,
            'plan losses' => Cost::seconds(static fn () => $conversion->plan($moment, [], $none)),
            'write iOS' => Cost::seconds(static fn () => $conversion->write($none)),
            'read iOS back' => Cost::seconds(static fn () => $conversion->readBack($none)),
            'compare' => Cost::seconds(static fn () => $conversion->compare($none)),
        ];
        // What both readers move in bulk, message by message: the way of every unusual one.
        $data = $here.'/'.Conversion::DATA;
        $one = [
            'read Android, one by one' => Cost::seconds(
                static fn () => self::readWith(new AndroidReader(false), $phone, $here.'/android.sqlite'),
            ),
            'read iOS, one by one' => Cost::seconds(
                static fn () => self::readWith(new IosReader(false), $data, $here.'/ios.sqlite'),
            ),
        ];
        $messages = (new ChatStore($here.'/chats.sqlite'))->messageCount();
        $output->writeln(sprintf('%s messages', number_format($messages)));
        foreach ([...$steps, ...$one] as $name => $seconds) {
            $output->writeln(
                sprintf(
                    '%-24s %7.2f s   %6.1f x the floor   %s messages a second', $name, $seconds, $seconds / $floor,
                    number_format($messages / $seconds),
                ),
            );
        }
        $output->writeln(
            sprintf(
                '%-24s %7.2f s   %6.1f x the floor', 'all', array_sum($steps) - $floor,
                (array_sum($steps) - $floor) / $floor,
            ),
        );
        $output->writeln(sprintf('peak memory %.1f MB', memory_get_peak_usage(true) / 1e6));

        return Command::SUCCESS;
    }

    private static function readWith(Reader $reader, string $folder, string $store): void
    {
        $writer = new StoreWriter($store);
        $reader->read($folder, new FolderFiles($folder), $writer, new NoProgress());
        $writer->finish();
    }
}
