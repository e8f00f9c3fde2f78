<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Work\RunKind;
use Geschenk\App\Work\RunState;
use Geschenk\App\Work\WorkOnRun;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\Phone\Check;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Restore\RestorePermit;
use Geschenk\Core\Restore\RestoreRefused;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Uid\Uuid;

/** Where runs are asked for: checks that the tray is ready for one, notes it and hands it to the worker. */
final readonly class RunDesk
{
    public function __construct(
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private PhoneDirectory $phones,
        private Holdings $holdings,
        private TrayFiles $files,
        private RunSheet $sheet,
        private KeySafe $keys,
    ) {
    }

    public function latest(Tray $tray): ?Run
    {
        return $this->entities->getRepository(Run::class)->findOneBy(['tray' => $tray], ['askedAt' => 'DESC', 'id' => 'DESC']);
    }

    /**
     * @param string|null $key for a backup of chats that lie in a sealed backup on the phone
     *
     * @throws \DomainException when the tray is not ready for it; the message says what is missing
     */
    public function ask(Tray $tray, RunKind $kind, string $by, ?string $confirmedTag = null, #[\SensitiveParameter] ?string $key = null): Run
    {
        return $this->together(function () use ($tray, $kind, $by, $confirmedTag, $key): Run {
            $latest = $this->latest($tray);
            if (null !== $latest && !$latest->state()->isOver()) {
                throw new \DomainException('Work on this tray is going on already. Wait until it is done.');
            }
            if (null !== $tray->closedAt()) {
                throw new \DomainException('This tray was handed over. Open a new one for further work.');
            }
            match ($kind) {
                RunKind::Backup => $this->ensureReady($tray, $by),
                RunKind::Conversion => $this->ensureBackedUp($tray, $by),
                RunKind::Restore => $this->ensureRestorable($tray, $confirmedTag ?? ''),
                RunKind::Check => null !== $this->lastDone($tray, RunKind::Restore) ?: throw new \DomainException('Nothing was restored yet, so there is nothing to check.'),
            };
            $run = new Run(Uuid::v7()->toRfc4122(), $tray, $kind, $this->clock->now(), $by, $confirmedTag);
            $this->keepKey($run, $key);
            $this->entities->persist($run);
            $this->sheet->log($by, 'asked_'.$kind->value, $tray->number, 'Asked for');
            $this->handOut($run);

            return $run;
        });
    }

    /**
     * Chooses what becomes of something that the receiving side can't hold, and has the rehearsal made anew with it.
     *
     * @throws \DomainException when there is no such choice, or it is too late for one
     */
    public function choose(Tray $tray, string $rule, string $choice, string $by): Run
    {
        LossRules::ensureOffered([$rule => $choice]);

        return $this->together(function () use ($tray, $rule, $choice, $by): Run {
            if (null !== $this->lastDone($tray, RunKind::Restore)) {
                throw new \DomainException('This was restored already; choices count before the restore.');
            }
            $before = $tray->choices();
            $tray->choose($rule, $choice);
            $this->sheet->log($by, 'chose', $tray->number, sprintf('%s: %s', $rule, $choice));
            try {
                // Choice, run and its message are stored as one: a quick worker finds the choice that the run is for.
                return $this->ask($tray, RunKind::Conversion, $by);
            } catch (\DomainException $refused) {
                $tray->chooseAll($before);
                throw $refused;
            }
        });
    }

    /** @throws \DomainException when it is not a run that stands still */
    public function goOn(Run $run, #[\SensitiveParameter] ?string $key = null): void
    {
        $this->together(function () use ($run, $key): Run {
            if (RunState::Failed !== $this->stateNow($run)) {
                throw new \DomainException('This run is not standing still.');
            }
            $this->keepKey($run, $key);
            $run->queue();
            $this->handOut($run);

            return $run;
        });
    }

    /**
     * Stops a run: at once where it waits, at its next step where it works. What it has done so far stays, and it can go
     * on later.
     *
     * @throws \DomainException when it is over already
     */
    public function stop(Run $run, string $by): void
    {
        $this->together(function () use ($run, $by): Run {
            if ($this->stateNow($run)->isOver()) {
                throw new \DomainException('This run is over already.');
            }
            $run->stop($by, $this->clock->now());
            $this->sheet->log($by, 'stopped_'.$run->kind->value, $run->tray->number, 'Stopped');
            $this->entities->flush();

            return $run;
        });
    }

    /** The run and the message that hands it to a worker are stored together: none without the other. */
    private function handOut(Run $run): void
    {
        $this->entities->flush();
        $this->bus->dispatch(new WorkOnRun($run->id));
    }

    /** As it stands in the database, where a worker may have changed it meanwhile. */
    private function stateNow(Run $run): RunState
    {
        $state = $this->entities->getConnection()->fetchOne('SELECT state FROM run WHERE id = ?', [$run->id]);

        return RunState::from(is_string($state) ? $state : '');
    }

    /**
     * One transaction, which has the write lock from its beginning: what is checked in it is still so when it is stored.
     *
     * @param callable(): Run $work
     */
    private function together(callable $work): Run
    {
        return $this->entities->getConnection()->transactional(static fn (): Run => $work());
    }

    public function lastDone(Tray $tray, RunKind $kind): ?Run
    {
        foreach ($this->entities->getRepository(Run::class)->findBy(['tray' => $tray, 'kind' => $kind], ['askedAt' => 'DESC', 'id' => 'DESC']) as $run) {
            if (RunState::Done === $run->state()) {
                return $run;
            }
        }

        return null;
    }

    /** Keeps the key of a sealed backup for the run; one that was told for chats that lie open is not kept. */
    private function keepKey(Run $run, #[\SensitiveParameter] ?string $key): void
    {
        if (RunKind::Backup !== $run->kind) {
            return;
        }
        $giving = $run->tray->phone(Role::Gives);
        try {
            if (null === $this->holdings->sealed($this->phones->link($giving->serial), $run->tray->app)) {
                return;
            }
            $key ?? throw new \DomainException(sprintf('The chats on phone %s lie in a sealed backup. Ask the customer for its 64 digits or its password, and type them in.', $giving->tag));
        } catch (PhoneUnplugged|PhoneRefuses) {
            // It can't be seen now; the run waits for the phone, and then the key is there if it was told.
        }
        $run->keepKey(null === $key ? null : $this->keys->put($key));
    }

    private function ensureBackedUp(Tray $tray, string $by): void
    {
        $backup = $this->files->backup($tray) ?? throw new \DomainException('There is no backup yet. Take one first.');
        $this->sheet->note($tray, Stage::Look, $by, sprintf('Everything goes across: %d conversations, %s messages', $backup->conversations, number_format($backup->messages)));
    }

    private function ensureReady(Tray $tray, string $by): void
    {
        $number = null;
        $bytes = null;
        foreach ([Role::Gives, Role::Receives] as $role) {
            $phone = $tray->phone($role);
            try {
                $state = $this->phones->link($phone->serial)->state();
            } catch (PhoneUnplugged) {
                throw new \DomainException(sprintf('Phone %s is not on the bench.', $phone->tag));
            }
            foreach (Readiness::of($state, $role, $tray->app, $number, Role::Receives === $role ? $bytes : null) as $check) {
                if (Check::READY !== $check->status) {
                    throw new \DomainException(sprintf('Phone %s is not ready: %s. %s', $phone->tag, $check->what, $check->how ?? ''));
                }
            }
            if (Role::Gives === $role) {
                $number = $state->app($tray->app)?->number;
                $bytes = $this->holdings->attachmentBytes($this->phones->link($phone->serial), $tray->app);
            }
        }
        $this->sheet->note($tray, Stage::Ready, $by, sprintf('Phones %s and %s ready', $tray->phone(Role::Gives)->tag, $tray->phone(Role::Receives)->tag));
    }

    private function ensureRestorable(Tray $tray, string $confirmedTag): void
    {
        if (!$this->files->isConverted($tray)) {
            throw new \DomainException('Nothing was converted yet. Convert first.');
        }
        $receiving = $tray->phone(Role::Receives);
        try {
            if (($this->files->plan($tray)['choices'] ?? null) !== $tray->choices()) {
                throw RestoreRefused::otherChoices();
            }
            $holds = $this->holdsAsSeen($receiving->serial, $tray->app);
            RestorePermit::grant($receiving->tag, $confirmedTag, (new Result($this->files->rehearsal($tray)))->totals(), $holds, '');
        } catch (RestoreRefused $refusal) {
            throw new \DomainException($refusal->getMessage());
        } catch (PhoneUnplugged) {
            throw new \DomainException(sprintf('Phone %s is not connected. Plug it in first.', $receiving->tag));
        }
    }

    /**
     * An early no; the worker looks again before it writes anything.
     *
     * @return array{conversations: int, messages: int}
     */
    private function holdsAsSeen(string $serial, string $app): array
    {
        try {
            return $this->holdings->read($this->phones->link($serial), $app);
        } catch (NotLookedYet) {
            return ['conversations' => 0, 'messages' => 0];
        }
    }
}
