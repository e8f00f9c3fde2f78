<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\StopWish;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfBackup;
use Geschenk\App\Runs\KindOfCustomer;
use Geschenk\App\Runs\KindOfShop;
use Geschenk\App\Runs\Kinds;

/** Where runs are asked for that are of a kept backup, a customer or the shop; each method is one guarded change. */
final readonly class KeepingDesk
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private Kinds $kinds,
        private NewRuns $newRuns,
        private ShopLog $log,
    ) {
    }

    /**
     * Whoever asks for what is under way already is given that; not where each is asked something of its own.
     *
     * @param string $kind name of a KindOfBackup
     *
     * @throws Refusal
     */
    public function askOfBackup(string $id, string $kind, string $by, Asked $asked = new Asked()): Run
    {
        $what = $this->kinds->find($kind);
        $what instanceof KindOfBackup ?: throw Refusal::because('no_such_work');

        return $this->records->change(function () use ($id, $what, $by, $asked): Run {
            $backup = $this->backup($id);
            $before = $backup->run();
            if (null !== $before && !$before->state()->rests()) {
                return $what::name() === $before->kind && null === $asked->own
                    ? $before
                    : throw Refusal::because('busy', ['edition' => $backup->edition]);
            }
            $what->ensureMayBegin($backup);
            $run = $this->newRuns->make($backup, $what, $by, $asked);
            $what->take($run, $asked);
            $this->newRuns->note($run, 'asked', $by);
            $this->newRuns->handOut($run);

            return $run;
        });
    }

    /**
     * The same for a customer; of each one at a time.
     *
     * @param Customer $customer as they stand in the caller's transaction
     *
     * @throws Refusal
     */
    public function askOfCustomer(Customer $customer, KindOfCustomer $what, string $by, Asked $asked): Run
    {
        $before = $customer->run();
        if (null !== $before && !$before->state()->rests()) {
            throw Refusal::because('busy_for_customer');
        }
        $what->ensureMayBegin($customer);
        $run = $this->newRuns->make($customer, $what, $by, $asked);
        $what->take($run, $asked);
        $this->newRuns->note($run, 'asked', $by);
        $this->newRuns->handOut($run);

        return $run;
    }

    /**
     * The same for the shop.
     *
     * @param string $kind name of a KindOfShop
     *
     * @throws Refusal
     */
    public function askOfShop(string $kind, string $by, Asked $asked = new Asked()): Run
    {
        $what = $this->kinds->find($kind);
        $what instanceof KindOfShop ?: throw Refusal::because('no_such_work');

        return $this->records->change(function () use ($what, $by, $asked): Run {
            $before = $this->newestOfShop($what::name());
            if (null !== $before && !$before->state()->rests()) {
                return $before;
            }
            $what->ensureMayBegin();
            $before?->isFollowed($this->newRuns->now());
            $run = $this->newRuns->make(null, $what, $by, $asked);
            $what->take($run, $asked);
            $this->newRuns->note($run, 'asked', $by);
            $this->newRuns->handOut($run);

            return $run;
        });
    }

    /**
     * Has a run of a backup, of a customer or of the shop go on, rest or end.
     *
     * @param string|int|null $of the backup that it is of, or the customer; null for the shop
     *
     * @throws Refusal where it is none of those, or that is not in question
     */
    public function act(string|int|null $of, string $id, RunAct $act, string $by, Asked $asked = new Asked()): void
    {
        $this->records->change(function () use ($of, $id, $act, $by, $asked): void {
            $run = $this->entities->find(Run::class, $id);
            $subject = match (true) {
                null === $of => null,
                is_int($of) => $this->entities->find(Customer::class, $of) ?? throw Refusal::because('run_over'),
                default => $this->backup($of),
            };
            $isHere = null !== $run && $run->subject() === $subject
                && (null !== $subject || $run === $this->newestOfShop($run->kind));
            if (!$isHere || !in_array($act, $run->acts(), true)) {
                throw Refusal::because(RunAct::GoOn === $act ? 'run_not_standing' : 'run_over');
            }
            if (RunAct::GoOn === $act) {
                $this->kinds->of($run->kind)->take($run, $asked);
                $run->goOn($by, null);
            } else {
                $run->stop(RunAct::Pause === $act ? StopWish::Pause : StopWish::Cancel, $by);
            }
            $this->newRuns->note($run, $act->logged(), $by);
            // One that is to rest needs nobody: it does so where it is.
            RunAct::Pause === $act ? $this->entities->flush() : $this->newRuns->handOut($run);
        });
    }

    /**
     * What somebody writes beside a backup. The log says that they did, and not what.
     *
     * @throws Refusal where it is erased
     */
    public function write(string $id, string $note, string $by): void
    {
        $this->records->change(function () use ($id, $note, $by): void {
            $backup = $this->backup($id);
            $backup->isKept() ?: throw Refusal::because('erased_already');
            if ($backup->note() !== $note) {
                $backup->write($note);
                $this->log->noteWithFlush($by, 'backup_noted', $backup->tray->number, ['edition' => $backup->edition]);
            }
        });
    }

    /**
     * In the caller's transaction: what is under way of a backup that is to go comes to its end first.
     *
     * @param string $by who has it erased
     */
    public function end(Backup $backup, string $by): void
    {
        $run = $backup->run();
        if (null !== $run && $run->may(RunAct::Cancel)) {
            $run->stop(StopWish::Cancel, $by);
            $this->newRuns->handOut($run);
        }
    }

    private function newestOfShop(string $kind): ?Run
    {
        return $this->entities->getRepository(Run::class)
            ->findOneBy(['move' => null, 'backup' => null, 'kind' => $kind], ['counter' => 'DESC']);
    }

    private function backup(string $id): Backup
    {
        return $this->entities->find(Backup::class, $id) ?? throw Refusal::because('no_such_backup');
    }
}
