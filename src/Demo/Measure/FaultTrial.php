<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\GuardedLink;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\WayIn\Cable\CableWay;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Disk\UnsyncedDisk;
use Geschenk\Standin\Phone\Faults;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\PhoneFolder;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * The whole way of one account between two stand-in phones, interrupted again and again: at bytes and at steps drawn by
 * a seed, by every fault that a phone can have and by the end of the process. Each attempt is a process of its own, so
 * that nothing is left in memory.
 *
 * @phpstan-type Outcome array{
 *     whole: bool, lost_silently: bool, giving_changed: bool, between: int, interrupted: int, story: list<string>,
 * }
 */
final class FaultTrial
{
    private const APP = Hands::APP['id'];
    private const BAG = 'bag';
    private const STAGE = 'trial';
    private const SEED = 5;
    private const ATTEMPTS = 40;
    /** Milliseconds since 1970 UTC: when lifetimes are judged. */
    private const MOMENT = 1_795_000_000_000;
    /** Bytes of a film that is larger than what is gone on with. */
    private const FILM = 6_000_000;

    /** @param string $folder for its files, empty */
    public function __construct(private readonly string $folder)
    {
        UnsyncedDisk::prepare();
        foreach ([false, true] as $hasFilm) {
            $this->layPhones($hasFilm);
        }
    }

    /**
     * @param (callable(PhoneFolder, PhoneFolder): void)|null $harm done to both phones before they are judged, to see
     *                                                              that it is seen
     *
     * @return Outcome
     */
    public function run(int $seed, ?callable $harm = null): array
    {
        $chance = new Randomizer(new Mt19937($seed));
        $here = Folder::make($this->folder.'/run');
        // A film travels in every eighth: it takes as long as everything else.
        $template = $this->template(0 === $seed % 8);
        foreach (['gives', 'receives'] as $phone) {
            self::copy($template.'/'.$phone, $here.'/'.$phone);
        }
        $giving = new PhoneFolder($here.'/gives/GIVES0001');
        $receiving = new PhoneFolder($here.'/receives/RECEIVES1');
        $before = ['gives' => $this->fingerprint($giving), 'receives' => $this->fingerprint($receiving)];
        $sizes = ['gives' => $giving->used(), 'receives' => $giving->used()];
        $story = [];
        $between = 0;
        $wanted = $chance->getInt(2, 6);
        $result = '';
        for ($attempt = 1; 'done' !== $result && $attempt <= self::ATTEMPTS; ++$attempt) {
            $step = $this->plan($chance, $here, [$giving, $receiving], $attempt <= $wanted ? $sizes : null, $story);
            $result = $this->attempt($here, $giving, $receiving, $step);
            $story[] = $result;
            $now = $this->fingerprint($receiving);
            if ($now !== $before['receives'] && !$this->isNew($here, $receiving)) {
                ++$between;
            }
            self::mend($giving);
            self::mend($receiving);
        }
        if (null !== $harm) {
            $harm($giving, $receiving);
        }
        $totals = 'done' === $result ? $this->arrived($here, $template, $receiving) : null;
        $outcome = [
            'whole' => true === $totals?->complete(),
            'lost_silently' => null !== $totals && !$totals->complete(),
            'giving_changed' => $this->fingerprint($giving) !== $before['gives'],
            'between' => $between, 'interrupted' => count($story) - 1, 'story' => $story,
        ];
        Folder::remove($here);
        ScratchFolder::sweep();

        return $outcome;
    }

    /**
     * @param array{gives: int, receives: int}|null $sizes bytes that travel at most; null for an attempt that nothing
     *                                                     interrupts
     * @param array{PhoneFolder, PhoneFolder}       $phones the one that gives, and the one that receives
     * @param list<string>                          $story
     *
     * @return array{at: int, do: string}|null what happens at which step; null where a byte decides
     */
    private function plan(
        Randomizer $chance,
        string $here,
        array $phones,
        ?array $sizes,
        array &$story,
    ): ?array {
        [$giving, $receiving] = $phones;
        foreach ([$giving, $receiving] as $phone) {
            $phone->change(static fn (array $s): array => ['faults' => []] + $s);
        }
        if (null === $sizes) {
            return null;
        }
        $kinds = [...Faults::KINDS, Faults::KILL, Faults::KILL];
        $do = $kinds[$chance->getInt(0, count($kinds) - 1)];
        if (1 === $chance->getInt(0, 2)) {
            // As often among the first steps as among the hundreds that follow.
            $at = (int) round(2 ** ($chance->getInt(0, 900) / 100));
            $story[] = "$do at step $at";

            return ['at' => $at, 'do' => $do];
        }
        $isPull = !is_dir($here.'/bag');
        $bytes = $chance->getInt(0, $sizes[$isPull ? 'gives' : 'receives']);
        $story[] = sprintf('%s after %d bytes of the %s', $do, $bytes, $isPull ? 'backup' : 'restore');
        $fault = ['on' => $isPull ? 'pull' : 'push', 'do' => $do, 'after_bytes' => $bytes];
        ($isPull ? $giving : $receiving)->change(static fn (array $s): array => ['faults' => [$fault]] + $s);

        return null;
    }

    /**
     * @param array{at: int, do: string}|null $step
     *
     * @return string "done", or what ended it
     */
    private function attempt(string $here, PhoneFolder $giving, PhoneFolder $receiving, ?array $step): string
    {
        $said = $here.'/said';
        Folder::remove($said);
        $process = pcntl_fork();
        if (0 === $process) {
            UnsyncedDisk::$isWaitedFor = false;
            try {
                $this->work($here, $giving, $receiving, $step);
                file_put_contents($said, 'done');
            } catch (Failure $failure) {
                file_put_contents($said, $failure->reason);
            } catch (\Throwable $error) {
                file_put_contents($said, $error->getMessage());
            }
            // Nothing of whoever began it is ended with it.
            posix_kill((int) getmypid(), \SIGKILL);
        }
        if ($process < 1) {
            throw new \RuntimeException('No process could be started.');
        }
        pcntl_waitpid($process, $status);

        return is_file($said) ? (string) file_get_contents($said) : 'killed';
    }

    /** @param array{at: int, do: string}|null $step */
    private function work(string $here, PhoneFolder $giving, PhoneFolder $receiving, ?array $step): void
    {
        $formats = new Formats();
        $reading = new ReadingHere();
        $vault = new PlainVault($here);
        $progress = $this->progress($step, $vault->isKept(self::BAG) ? $receiving : $giving);
        if (!$vault->isKept(self::BAG)) {
            $link = self::link($giving);
            Fitness::ensure($link->state(), Fitness::GOES_ON_AT);
            (new BackupMaker($reading, $vault))->make(
                new CableWay(new PhoneChats($formats, $reading)), new Taking($link, self::APP, CableWay::now()),
                self::BAG, [], $progress,
            );
        }
        if (!is_dir($here.'/conversion')) {
            $part = Folder::make($here.'/conversion.part');
            $vault->verify(self::BAG);
            $backup = $vault->open(self::BAG);
            $conversion = new Conversion(
                $formats, $reading, $backup->chats(), $backup->files(), $part, Platform::Ios,
            );
            $conversion->run(self::MOMENT, [], $progress);
            Disk::move($part, $here.'/conversion');
        }
        $link = self::link($receiving);
        Fitness::ensure($link->state(), Fitness::GOES_ON_AT);
        if (self::STAGE === $link->swapped(self::APP)) {
            $link->restart();

            return;
        }
        $manifest = Manifest::read($here.'/conversion/'.Conversion::MANIFEST);
        $restorer = new Restorer();
        $data = new FolderContents($here.'/conversion/'.Conversion::DATA);
        $staged = $restorer->stage(
            $this->permit($link), new Staging($link, self::APP, self::STAGE), $data, $manifest, $progress,
        );
        $restorer->swapIn($this->permit($link), $staged, $link, $progress);
    }

    private function permit(PhoneLink $link): RestorePermit
    {
        // What the phone holds was looked at when it was made: nothing.
        $tallied = new Totals(0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0);

        return RestorePermit::grant(new ReceiverSeen($link->mark(self::APP)), new AgreedTo('T', 'T'), $tallied);
    }

    /** What is on the phone, against what the giving phone held before anybody was at it. */
    private function arrived(string $here, string $template, PhoneFolder $receiving): Totals
    {
        // As if a while had passed: what was written just now is read twice.
        DemoMaker::rest($receiving->data(self::APP));
        (new PhoneChats(new Formats(), new ReadingHere()))->read(
            new FolderPhoneLink($receiving), self::APP, $here.'/back.sqlite', true, new NoProgress(),
        );
        $expected = new ChatStore($template.'/expected.sqlite');

        return (new Comparison($expected, new ChatStore($here.'/back.sqlite')))
            ->run($here.'/result.sqlite', new NoProgress())->totals();
    }

    /** @param array{at: int, do: string}|null $step */
    private function progress(?array $step, PhoneFolder $phone): Progress
    {
        return new class($step, $phone) implements Progress {
            private int $steps = 0;

            /** @param array{at: int, do: string}|null $step */
            public function __construct(private readonly ?array $step, private readonly PhoneFolder $phone)
            {
            }

            public function phase(string $name, int $items = 0, int $bytes = 0): void
            {
                $this->step();
            }

            public function advance(int $items, int $bytes = 0): void
            {
                $this->step();
            }

            private function step(): void
            {
                if (null === $this->step || ++$this->steps !== $this->step['at']) {
                    return;
                }
                $do = $this->step['do'];
                if (Faults::KILL === $do) {
                    posix_kill((int) getmypid(), \SIGKILL);
                }
                $used = $this->phone->used();
                $this->phone->change(static fn (array $s): array => Faults::after($s, $do, $used));
            }
        };
    }

    private static function link(PhoneFolder $phone): PhoneLink
    {
        return new GuardedLink(new FolderPhoneLink($phone), 0.01);
    }

    /** What a person does when called. */
    public static function mend(PhoneFolder $phone): void
    {
        $phone->change(static fn (array $s): array => [
            'plugged' => true, 'unlocked' => true, 'battery' => 80, 'admitted' => true,
            'debugging' => Platform::Android->value === $s['platform'], 'storage_other' => 0,
        ] + $s);
    }

    /** Whether the phone's data is what was converted, to the last byte. */
    private function isNew(string $here, PhoneFolder $receiving): bool
    {
        if (!is_file($here.'/conversion/'.Conversion::MANIFEST)) {
            return false;
        }
        $data = $receiving->data(self::APP);
        $manifest = Manifest::read($here.'/conversion/'.Conversion::MANIFEST);
        foreach ($manifest->entries() as $file) {
            $full = $data.'/'.$file['path'];
            if (!is_file($full) || hash_file('sha256', $full) !== $file['sha256']) {
                return false;
            }
        }

        return iterator_count(Folder::files($data)) === $manifest->files;
    }

    private function fingerprint(PhoneFolder $phone): string
    {
        $hash = hash_init('sha256');
        $data = $phone->data(self::APP);
        foreach (Folder::files($data) as $path) {
            hash_update($hash, $path."\0".hash_file('sha256', $data.'/'.$path)."\n");
        }

        return hash_final($hash);
    }

    private function template(bool $hasFilm): string
    {
        return $this->folder.($hasFilm ? '/with-a-film' : '/without');
    }

    private function layPhones(bool $hasFilm): void
    {
        $template = Folder::make($this->template($hasFilm));
        $customer = new Customer(
            'Test Person', '+447700900700', ['family'], [
                ['title' => 'Committee', 'topic' => 'bees', 'share' => 40, 'people' => 4],
            ], 7, 60, ['photo' => 250, 'voice' => 100, 'document' => 0], 'hex', 2024, true,
        );
        $state = ['maker' => 'Maker', 'storage_total' => 1_000_000_000, 'storage_other' => 0];
        $giving = DemoMaker::phone($template.'/gives', static fn (string $line) => null, $customer, self::SEED, [
            'serial' => 'GIVES0001', 'model' => 'Old', 'platform' => 'android', 'os_version' => '14',
            'developer_options' => true, 'debugging' => true, 'admitted' => true,
        ] + $state);
        DemoMaker::fresh($template.'/receives', [
            'serial' => 'RECEIVES1', 'model' => 'New', 'platform' => 'ios', 'os_version' => '18',
            'developer_options' => false, 'debugging' => false, 'admitted' => true,
        ] + $state, $customer);
        if ($hasFilm) {
            $this->makeFilm($giving->data(self::APP));
        }
        DemoMaker::rest($giving->data(self::APP));
        $source = ChatSource::open($giving->data(self::APP), new Formats(), true);
        $format = (new Formats())->writing($source->chats->source()->messenger, Platform::Ios)
            ?? throw new \LogicException('Nothing writes it.');
        Expectation::of($format->capabilities(), self::MOMENT)
            ->build($source->chats, $template.'/expected.sqlite', new NoProgress());
    }

    /** One of its photos becomes large. */
    private function makeFilm(string $data): void
    {
        foreach (Folder::files($data, 'parcels/photo') as $path) {
            $bytes = (string) file_get_contents($data.'/'.$path);
            $more = (new Randomizer(new Mt19937(self::SEED)))->getBytes(self::FILM);
            file_put_contents($data.'/'.$path, $bytes.$more);

            return;
        }
    }

    private static function copy(string $from, string $to): void
    {
        exec(sprintf('cp -a %s %s', escapeshellarg($from), escapeshellarg($to)), $lines, $status);
        if (0 !== $status) {
            throw new \RuntimeException('The phones could not be copied.');
        }
    }
}
