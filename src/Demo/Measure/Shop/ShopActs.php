<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure\Shop;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Bench\LookAtPhone;
use Geschenk\App\Bench\LookAtPhoneHandler;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Log\LogChain;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\Choosing\Choosing;
use Geschenk\App\Tray\Choosing\ScopeAsked;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\Tray\HandOver\StillOpen;
use Geschenk\App\Tray\Intake\Accounts;
use Geschenk\App\Tray\Intake\Intake;
use Geschenk\App\Tray\Intake\Opening;
use Geschenk\App\Work\Backup\BackupKind;
use Geschenk\App\Work\Check\CheckKind;
use Geschenk\App\Work\Conversion\ConversionKind;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\PutBack\PutBackKind;
use Geschenk\App\Work\Restore\RestoreKind;
use Geschenk\App\Work\RunDesk;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;
use Geschenk\Standin\Phone\PhoneFolder;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\Console\Input\ArrayInput;
use Symfony\Component\Console\Output\NullOutput;
use Symfony\Component\HttpKernel\KernelInterface;

/**
 * What people do at the counter, one act a call, on whatever data folder the process was begun with. Runs are asked for
 * and left to the workers.
 */
final readonly class ShopActs
{
    public const GIVING = 'GIVES0001';
    public const RECEIVING = 'RECEIVES1';
    public const APP = 'otterpost';
    private const BY = 'jette';
    private const PLACE = 1;
    private const SEED = 5;
    private const OTHER_SEED = 13;

    public function __construct(
        private DataFolder $data,
        private EntityManagerInterface $entities,
        private BenchWatch $bench,
        private LookAtPhoneHandler $looks,
        private Accounts $accounts,
        private Intake $intake,
        private RunDesk $desk,
        private Choosing $choosing,
        private HandOver $handOver,
        private StillOpen $open,
        private Erasing $erasing,
        private MoveFiles $files,
        private LogChain $log,
        private KernelInterface $kernel,
    ) {
    }

    /** @return array<string, mixed> what is so afterwards, where the act tells something */
    public function do(string $act): array
    {
        $this->lookRound();
        $told = match ($act) {
            'layPhones' => $this->layPhones(),
            'holdChats' => $this->holdChats(),
            'makeLocalBackup' => LocalBackupsOnPhone::make($this->phone(self::GIVING), self::APP, true, time() - 100),
            'open' => $this->intake->open(
                new Opening('Test Person', 'the café', self::GIVING, self::RECEIVING, 'en'), self::BY,
            ),
            'backUp' => $this->ask(BackupKind::name()),
            'backUpOwn' => $this->desk->ask(
                new MoveAt($this->tray()->number, self::PLACE), BackupKind::name(), self::BY,
                new Asked(offer: $this->localBackup()),
            ),
            'merge' => $this->choose(true, new Scope()),
            'replace' => $this->choose(false, new Scope()),
            'choosePart' => $this->choose(false, $this->choosing->scope($this->move(), new ScopeAsked(trialNewest: 3))),
            'wantNames' => $this->choose(true, new Scope(), true),
            'convert' => $this->ask(ConversionKind::name()),
            'restore' => $this->ask(RestoreKind::name()),
            'check' => $this->ask(CheckKind::name()),
            'putBack' => $this->ask(PutBackKind::name()),
            'loseMessages' => $this->loseMessages(),
            'bringMissing' => $this->desk->bringMissing(new MoveAt($this->tray()->number, self::PLACE), self::BY),
            'bringRest' => $this->desk->bringRest(new MoveAt($this->tray()->number, self::PLACE), self::BY),
            'handOver' => $this->handOver(),
            'erase' => $this->erasing->ask($this->tray()->number, (string) $this->tray()->number, self::BY),
            'jumpClock' => $this->jumpClock(),
            'goOn' => $this->goOn(),
            'judge' => $this->judge(),
            default => throw new \LogicException('There is no such act: '.$act),
        };

        return is_array($told) ? $told : [];
    }

    /** As the watch and a worker do it, so that what is asked for next is asked of what is there. */
    private function lookRound(): void
    {
        $this->bench->round();
        $this->accounts->takeUpWhatShows();
        foreach ($this->entities->getRepository(Holding::class)->findAll() as $holding) {
            ($this->looks)(new LookAtPhone($holding->serial, $holding->app));
        }
        $this->entities->clear();
    }

    private function layPhones(): void
    {
        $state = ['maker' => 'Maker', 'admitted' => true];
        DemoMaker::phone($this->data->phones(), static fn (string $line) => null, self::customer(60), self::SEED, [
            'serial' => self::GIVING, 'model' => 'Old', 'platform' => 'android', 'os_version' => '14',
            'developer_options' => true, 'debugging' => true,
        ] + $state);
        DemoMaker::fresh($this->data->phones(), [
            'serial' => self::RECEIVING, 'model' => 'New', 'platform' => 'ios', 'os_version' => '18',
            'developer_options' => false, 'debugging' => false,
        ] + $state, self::customer(60));
        foreach ([self::GIVING, self::RECEIVING] as $serial) {
            DemoMaker::rest($this->phone($serial)->data(self::APP));
        }
    }

    /** The receiving phone has been in use for a while. */
    private function holdChats(): void
    {
        $state = $this->phone(self::RECEIVING)->state();
        DemoMaker::phone(
            $this->data->phones(), static fn (string $line) => null, self::customer(40), self::OTHER_SEED,
            ['serial' => self::RECEIVING, 'apps' => []] + $state,
        );
        DemoMaker::rest($this->phone(self::RECEIVING)->data(self::APP));
    }

    private static function customer(int $slips): Customer
    {
        return new Customer(
            'Test Person', '+447700900700', ['family'], [
                ['title' => 'Committee', 'topic' => 'bees', 'share' => 40, 'people' => 4],
            ], 7, $slips, ['photo' => 250, 'voice' => 100, 'document' => 0], 'hex', 2024, true,
        );
    }

    private function ask(string $kind): void
    {
        $move = $this->move();
        $holding = $this->entities->getRepository(Holding::class)->findOneBy(
            ['serial' => self::RECEIVING, 'app' => self::APP],
        );
        $held = $holding?->counts()['messages'] ?? 0;
        $this->desk->ask(
            new MoveAt($move->tray->number, $move->place), $kind, self::BY, new Asked(
                $move->tray->number.'-B',
                RestoreKind::name() === $kind && !$move->bringing()->merges() && $held > 0 ? $held : null,
            ),
        );
    }

    private function choose(bool $merges, Scope $scope, ?bool $names = null): void
    {
        $this->choosing->choose(new MoveAt($this->tray()->number, self::PLACE), $scope, $merges, self::BY, $names);
    }

    private function localBackup(): string
    {
        $holding = $this->entities->getRepository(Holding::class)->findOneBy(
            ['serial' => self::GIVING, 'app' => self::APP],
        );

        foreach ($holding?->offers() ?? [] as $seen) {
            if (!$seen->offer->isOfNow()) {
                return $seen->offer->id();
            }
        }
        throw new \LogicException('It has made no backup.');
    }

    /** As if the phone had lost some of what was brought. */
    private function loseMessages(): void
    {
        $data = $this->phone(self::RECEIVING)->data(self::APP);
        $chats = new \SQLite3($data.'/Pouch.sqlite');
        $chats->enableExceptions(true);
        $chats->exec('DELETE FROM ZSLIP WHERE Z_PK % 5 = 0');
        $chats->close();
        DemoMaker::rest($data);
    }

    private function handOver(): void
    {
        $tray = $this->tray();
        $this->handOver->close($tray->number, self::BY, null, array_column($this->open->of($tray), 'id'));
    }

    /** A round of the watch, begun anew, on a computer whose clock has gone ahead by a season. */
    private function jumpClock(): void
    {
        Clock::set(new MockClock('+100 days'));
        $console = new Application($this->kernel);
        $console->setAutoExit(false);
        $console->run(new ArrayInput(['command' => 'shop:watch', '--once' => true]), new NullOutput());
    }

    private function goOn(): void
    {
        foreach ($this->entities->getRepository(Run::class)->findAll() as $run) {
            if ($run->canGoOn() && $run->isNewest()) {
                $this->desk->goOn($run->move()->tray->number, $run->move()->place, $run->id, self::BY);
            }
        }
    }

    /**
     * @return array{
     *     over: bool, failed: list<string>, kept: bool, complete: bool|null, log: bool, left: list<string>,
     * } over: whether nothing is under way; kept: whether all that was backed up is there, whole; log: whether its
     *   chain holds; left: what should lie nowhere any more
     */
    private function judge(): array
    {
        $failed = [];
        $isOver = true;
        foreach ($this->entities->getRepository(Run::class)->findAll() as $run) {
            $isOver = $isOver && $run->state()->rests() && !$run->hasLeftOnPhone();
            if (RunState::Failed === $run->state() && $run->isNewest()) {
                $failed[] = $run->kind.' '.$run->trouble();
            }
        }
        $move = $this->tray()->move(self::PLACE);
        $backup = $move?->backup();
        $isKept = null !== $backup && $this->files->isThere($backup->id, 'backup');
        if ($isKept) {
            $this->files->verified($backup);
        }
        $left = [];
        foreach ([$this->data->backups(), $this->data->path.'/trays', $this->data->phones()] as $folder) {
            foreach (is_dir($folder) ? Folder::files($folder) : [] as $path) {
                if (1 === preg_match('~\.(part|gone)(/|$)|^[^/]+/incoming/~', $path)) {
                    $left[] = basename($folder).'/'.$path;
                }
            }
        }

        return [
            'over' => $isOver && (null === $this->tray()->eraseAskedAt() || null !== $this->tray()->erasedAt()),
            'failed' => $failed, 'kept' => $isKept, 'complete' => $move?->bringing()->check()?->isComplete(),
            'log' => null === $this->log->firstFault(),
            'left' => array_slice($left, 0, 5),
        ];
    }

    private function tray(): Tray
    {
        return $this->entities->getRepository(Tray::class)->findOneBy([]) ?? throw new \LogicException('No tray.');
    }

    private function move(): Move
    {
        return $this->tray()->move(self::PLACE) ?? throw new \LogicException('No account.');
    }

    private function phone(string $serial): PhoneFolder
    {
        return new PhoneFolder($this->data->phones().'/'.$serial);
    }
}
