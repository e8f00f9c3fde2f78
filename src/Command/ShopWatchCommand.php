<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Clock\ShopClock;
use Geschenk\App\Files\Leftovers;
use Geschenk\App\Records;
use Geschenk\App\Tray\HandOver\Switched;
use Geschenk\App\Tray\Intake\Accounts;
use Geschenk\App\Tray\Standing\Calls;
use Geschenk\App\Uncover\Uncoverings;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\Foreman;
use Geschenk\App\Work\Forgetting;
use Geschenk\App\Work\Import\LeftImports;
use Geschenk\App\Work\KeyWatch;
use Geschenk\App\Work\ReadingCopy\LeftCopies;
use Geschenk\App\Work\Round\Nightly;
use Geschenk\App\Work\Sealing\LyingOpen;
use Geschenk\App\Work\SecondPlace\PlaceWatch;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Seal\OpenCopies;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Command\SignalableCommandInterface;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** The watch: looks round the bench and hands out runs that were left lying, once a second or so, until it is ended. */
#[AsCommand('shop:watch', 'Watches the bench and the runs; started beside the workers')]
final class ShopWatchCommand extends Command implements SignalableCommandInterface
{
    /** Microseconds between two rounds, while something goes on and while nothing does. */
    private const PAUSE = 600_000;
    private const QUIET = 1_000_000;

    /** Seconds between two looks for what killed processes left. */
    private const SWEPT_EVERY = 60.0;

    /** Seconds after which records that have not changed are gone through once more: some of it goes by the time. */
    private const GONE_THROUGH_EVERY = 5.0;

    private bool $isEnding = false;
    private string $goneThrough = '';
    private float $goneThroughAt = 0.0;

    public function __construct(
        private readonly BenchWatch $bench,
        private readonly Accounts $accounts,
        private readonly Switched $switched,
        private readonly Calls $calls,
        private readonly Foreman $foreman,
        private readonly Leftovers $leftovers,
        private readonly ShopClock $shopClock,
        private readonly Erasing $erasing,
        private readonly Forgetting $forgetting,
        private readonly KeyWatch $keys,
        private readonly LeftCopies $leftCopies,
        private readonly LeftImports $leftImports,
        private readonly LyingOpen $lyingOpen,
        private readonly Nightly $nightly,
        private readonly OpenCopies $openCopies,
        private readonly PlaceWatch $placeWatch,
        private readonly Uncoverings $uncoverings,
        private readonly EntityManagerInterface $entities,
        private readonly Records $records,
        #[Autowire('%env(GESCHENK_MEMORY)%')] private readonly string $memory,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('once', null, InputOption::VALUE_NONE, 'One round only')
            ->addOption('time-limit', null, InputOption::VALUE_REQUIRED, 'Seconds after which to end', '3600');
    }

    /** @return list<int> */
    public function getSubscribedSignals(): array
    {
        return [\SIGTERM, \SIGINT];
    }

    public function handleSignal(int $signal, int|false $previousExitCode = 0): int|false
    {
        $this->isEnding = true;

        return false;
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $sweptAt = -self::SWEPT_EVERY;
        $this->leftovers->dropAll();
        $limit = $input->getOption('time-limit');
        $end = hrtime(true) / 1e9 + (is_string($limit) ? (float) $limit : 0.0);
        do {
            if (hrtime(true) / 1e9 - $sweptAt >= self::SWEPT_EVERY) {
                $sweptAt = hrtime(true) / 1e9;
                ScratchFolder::sweep($this->memory);
                $this->shopClock->look();
                $this->erasing->due();
                $this->forgetting->due();
                $this->leftovers->dropOfLately();
                $this->leftCopies->sweep();
                $this->leftImports->sweep();
                $this->lyingOpen->look();
                $this->nightly->look();
                $this->placeWatch->look();
                $this->openCopies->sweep();
            }
            $this->entities->clear();
            $this->foreman->round();
            $this->bench->round();
            $this->accounts->takeUpWhatShows();
            $isQuiet = !$this->goThroughRecords();
            $this->keys->round();
            $this->uncoverings->sweep();
            if (true === $input->getOption('once')) {
                break;
            }
            usleep($isQuiet ? self::QUIET : self::PAUSE);
        } while (!$this->isEnding && hrtime(true) / 1e9 < $end);

        return Command::SUCCESS;
    }

    /** @return bool whether they were gone through, for having changed */
    private function goThroughRecords(): bool
    {
        $state = $this->records->state();
        $now = hrtime(true) / 1e9;
        if ($state === $this->goneThrough && $now - $this->goneThroughAt < self::GONE_THROUGH_EVERY) {
            return false;
        }
        // As they stood before: what is changed by going through them is gone through again.
        [$this->goneThrough, $this->goneThroughAt] = [$state, $now];
        $this->switched->look();
        $this->calls->note();

        return true;
    }
}
