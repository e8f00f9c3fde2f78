<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\App\DataFolder;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Archive\SealedBag;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Platform;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\KeyFile;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\Seal\SealedContents;
use Geschenk\Core\Seal\SealedFolder;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\WayIn\Cable\CableWay;
use Geschenk\Standin\Demo\BigSource;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\PhoneFolder;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Times a whole job (backup, conversion, restore, check) whose backup, and all that its work leaves, is kept sealed
 * against the same job whose files lie open, in turns; and how long the first page of a large sealed ledger takes.
 */
#[AsCommand('bench:seal', 'Measures what it costs that backups are sealed, against the same job with them open')]
final class BenchSealCommand extends Command
{
    private const SEED = 78;
    private const APP = Hands::APP['id'];

    public function __construct(
        private readonly ChatReading $reading,
        private readonly Formats $formats,
        private readonly CableWay $cable,
        private readonly PhoneChats $chats,
        private readonly DataFolder $data,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('kilobytes', null, InputOption::VALUE_REQUIRED, 'How large attachments are on average', '250')
            ->addOption('messages', null, InputOption::VALUE_REQUIRED, 'How many messages the ledger has', '1000000')
            ->addOption(
                'rounds', null, InputOption::VALUE_REQUIRED, 'How often each is done; its best time counts', '3',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $numbers = [];
        foreach (['kilobytes', 'messages', 'rounds'] as $name) {
            $told = $input->getOption($name);
            if (!is_string($told) || 1 !== preg_match('/^[1-9]\d{0,7}$/', $told)) {
                $output->writeln(
                    'Say with --kilobytes=250 --messages=1000000 --rounds=3 what to measure with, and how often.',
                );

                return Command::INVALID;
            }
            $numbers[$name] = (int) $told;
        }
        $here = $this->data->path.'/bench-seal-'.getmypid();
        try {
            $phone = $this->phone($here.'/phones', $numbers['kilobytes'] * 1_000);
            $files = iterator_count(Folder::files($phone->data(self::APP), 'parcels'));
            $sealed = $this->sealed($here);
            $open = new PlainVault(Folder::make($here.'/open'));
            // Once for nothing, so that neither finds the phone's files cold.
            $this->job($phone, $open, $here);
            $times = ['sealed' => [], 'open' => []];
            for ($round = 1; $round <= $numbers['rounds']; ++$round) {
                $times['sealed'][] = $this->job($phone, $sealed, $here);
                $times['open'][] = $this->job($phone, $open, $here);
            }
            [$page, $pageOpen, $bytes] = $this->firstPage($here, $numbers['messages'], $numbers['rounds']);
        } finally {
            Folder::remove($here);
        }
        [$with, $without] = [min([\PHP_FLOAT_MAX, ...$times['sealed']]), min([\PHP_FLOAT_MAX, ...$times['open']])];
        $figures = [
            'files' => $files, 'kilobytes' => $numbers['kilobytes'], 'sealed_s' => round($with, 2),
            'open_s' => round($without, 2), 'ratio' => round($with / $without, 2),
            'messages' => $numbers['messages'], 'page_s' => round($page, 3), 'page_open_s' => round($pageOpen, 3),
            'store_mb' => round($bytes / 1e6, 1), 'peak_mb' => round(Cost::peakBytes() / 1e6, 1),
        ];
        $output->writeln(true === $input->getOption('json') ? json_encode($figures, \JSON_THROW_ON_ERROR) : sprintf(
            "a whole job, %s files of %d kB on average\nsealed          %8.2f s   %6.2f x the floor\nopen            "
                ."%8.2f s\nthe first page of a ledger of %s messages, %.0f MB\n"
                ."sealed          %8.3f s\nopen            %8.3f s",
            number_format($figures['files']), $figures['kilobytes'], $figures['sealed_s'], $figures['ratio'],
            $figures['open_s'], number_format($figures['messages']), $figures['store_mb'], $figures['page_s'],
            $figures['page_open_s'],
        ));

        return Command::SUCCESS;
    }

    /** Backup, conversion with its rehearsal, restore and check; the whole of it tallies. */
    private function job(PhoneFolder $giving, Vault $vault, string $here): float
    {
        Folder::remove($here.'/receiving');
        $receiving = DemoMaker::fresh($here.'/receiving', [
            'serial' => 'BENCH0003', 'maker' => 'Orchard', 'model' => 'New', 'platform' => 'ios', 'os_version' => '18',
            'developer_options' => false, 'debugging' => false, 'admitted' => true,
        ], Customer::baker());
        // As a worker has it: what is to be sealed is made in memory, where it is little.
        $made = $vault instanceof SealedVault ? ScratchFolder::inMemory() : null;
        $folder = Folder::make(($made->path ?? $here).'/conversion');
        $work = new SealedFolder($here.'/work.sealed', DataKey::random());
        $none = new NoProgress();
        $seconds = Cost::seconds(function () use (
            $giving, $receiving, $vault, $folder, $here, $none, $made, $work,
        ): void {
            (new BackupMaker($this->reading, $vault))->make(
                $this->cable, new Taking(new FolderPhoneLink($giving), self::APP, CableWay::now()), 'bag', [], $none,
            );
            $vault->verify('bag');
            $backup = $vault->open('bag');
            $conversion = new Conversion(
                $this->formats, $this->reading, $backup->chats(), $backup->files(true), $folder, Platform::Ios,
            );
            $conversion->run(1_795_192_800_000, [], $none);
            $expected = $conversion->expected();
            $data = new FolderContents($folder.'/'.Conversion::DATA);
            $manifest = Manifest::read($folder.'/'.Conversion::MANIFEST);
            if (null !== $made) {
                [$expected, $data, $manifest] = self::sealedConversion($work, $folder, $here);
                Folder::remove($folder);
            }
            $link = new FolderPhoneLink($receiving);
            $staged = (new Restorer())->stage(
                self::permit($link), new Staging($link, self::APP, 'bench'),
                $data, $manifest, $none,
            );
            (new Restorer())->swapIn(self::permit($link), $staged, $link, $none);
            // As somebody does who plugs it in again behind its restart.
            FaultTrial::mend($receiving);
            DemoMaker::rest($receiving->data(self::APP));
            $back = ($made->path ?? $here).'/back.sqlite';
            $lines = ($made->path ?? $here).'/result.sqlite';
            $this->chats->read($link, self::APP, $back, true, $none);
            $result = (new Comparison($expected, new ChatStore($back)))->run($lines, $none);
            if (null !== $made) {
                $work->put('read-back.sqlite', $back);
                $work->put('result.sqlite', $lines);
            }
            if (!$result->totals()->complete()) {
                throw new \LogicException('The measured job does not tally.');
            }
        });
        $vault->discard('bag');
        foreach (['conversion', 'back.sqlite', 'result.sqlite', 'work.sealed'] as $left) {
            Folder::remove($here.'/'.$left);
        }
        // What one left in the system's memory is not the next one's burden.
        exec('sync');

        return $seconds;
    }

    /**
     * Seals what was converted, as a worker does, and opens what a restore and a check want of it.
     *
     * @return array{ChatStore, SealedContents, Manifest}
     */
    private static function sealedConversion(SealedFolder $work, string $folder, string $here): array
    {
        $paths = iterator_to_array(Folder::files($folder), false);
        $work->sealAll($folder);
        Disk::syncTogether($work->path);
        foreach ($paths as $path) {
            foreach ($work->file($path)->pieces() as $_) {
                // What is called sealed was read back.
            }
        }
        $copies = new OpenCopies('/dev/shm', $here);
        [$plan, $list] = [
            $copies->of($work->file(Conversion::EXPECTED)), $copies->of($work->file(Conversion::MANIFEST)),
        ];

        return [
            new ChatStore($plan->path, behind: $plan),
            new SealedContents($work, Conversion::DATA.'/', static fn (): array => $paths),
            Manifest::read($list->path, $list),
        ];
    }

    private static function permit(FolderPhoneLink $link): RestorePermit
    {
        // What the phone holds was looked at when it was made: nothing.
        return RestorePermit::grant(
            new ReceiverSeen($link->mark(self::APP)), new AgreedTo('T', 'T'),
            new Totals(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0),
        );
    }

    /** @return array{float, float, int} seconds sealed and open, and bytes of the store */
    private function firstPage(string $here, int $messages, int $rounds): array
    {
        BigSource::make($here.'/source', $messages, self::SEED);
        $bag = new Workplace($here.'/ledger');
        Folder::make(dirname($bag->chats()));
        $this->reading->read($here.'/source', new FolderFiles($here.'/source'), $bag->chats(), new NoProgress());
        Folder::remove($here.'/source');
        $sealed = new SealedBag(Folder::make($here.'/ledger.sealed'), DataKey::random());
        $sealed->sealAll($here.'/ledger');
        $file = $sealed->file(substr($bag->chats(), strlen($here.'/ledger/')));
        $copies = new OpenCopies('/dev/shm', $here);
        $page = $open = [];
        for ($round = 1; $round <= $rounds; ++$round) {
            $page[] = Cost::seconds(static function () use ($copies, $file): void {
                $copy = $copies->of($file);
                self::page(new ChatStore($copy->path, behind: $copy));
            });
            // The next one finds nothing of it.
            $copies->sweep(0);
            $open[] = Cost::seconds(static fn () => self::page(new ChatStore($bag->chats())));
        }

        return [
            min([\PHP_FLOAT_MAX, ...$page]), min([\PHP_FLOAT_MAX, ...$open]), (int) filesize($bag->chats()),
        ];
    }

    /** The newest hundred messages of a conversation that is there, as the ledger asks for them. */
    private static function page(ChatStore $chats): void
    {
        $chats->hasConversation(1);
        $count = $chats->messageCount(1);
        foreach ($chats->glimpses(1, max(1, $count - 99), 100) as $_) {
            continue;
        }
    }

    private function sealed(string $here): SealedVault
    {
        Folder::make($here);
        file_put_contents($here.'/key', random_bytes(KeyFile::LEAST));
        $keys = new Keyring($here.'/keys', new KeyFile($here.'/key'));
        $keys->make();

        return new SealedVault(Folder::make($here.'/sealed'), $keys, new OpenCopies('/dev/shm', $here.'/sealed'));
    }

    private function phone(string $folder, int $bytes): PhoneFolder
    {
        $state = [
            'serial' => 'BENCH0002', 'maker' => 'Kestrelworks', 'model' => 'Fathom 4', 'platform' => 'android',
            'os_version' => '14', 'developer_options' => true, 'debugging' => true, 'admitted' => true,
        ];
        $phone = DemoMaker::phone(
            $folder, static fn (string $line) => null, Customer::baker(), self::SEED, $state,
        );
        $data = $phone->data(self::APP);
        $chance = new Randomizer(new Mt19937(self::SEED));
        foreach (iterator_to_array(Folder::files($data, 'parcels'), false) as $path) {
            // From a tenth of the average to nearly twice as much.
            $more = $chance->getBytes(max(1, $chance->getInt(intdiv($bytes, 10), intdiv($bytes * 19, 10))));
            file_put_contents($data.'/'.$path, $more, \FILE_APPEND);
        }
        DemoMaker::rest($data);

        return $phone;
    }
}
