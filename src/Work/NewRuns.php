<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\Kind;
use Geschenk\App\Runs\KindOfMove;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Uid\Uuid;

/** How a run comes to be, whatever it is of; each method in the caller's transaction. */
final readonly class NewRuns
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private ShopLog $log,
    ) {
    }

    /** Stored, and handed to nobody yet. */
    public function make(Move|Backup|Customer|null $subject, Kind $kind, string $by, Asked $asked = new Asked()): Run
    {
        [$phone, $stages] = $kind instanceof KindOfMove && $subject instanceof Move
            ? [$kind->phone($subject), $kind->stages()]
            : [null, false];
        $run = new Run(
            Uuid::v7()->toRfc4122(), $this->records->next(Run::class), $subject, $kind::name(), $stages, $phone,
            $this->clock->now(), $by, $asked->confirmedTag, $asked->replaces, $asked->unreadable,
        );
        $this->entities->persist($run);
        $subject?->begin($run);

        return $run;
    }

    public function now(): \DateTimeImmutable
    {
        return $this->clock->now();
    }

    /** The run and the message that hands it to a worker are stored together: none without the other. */
    public function handOut(Run $run): void
    {
        $this->entities->flush();
        $this->bus->dispatch(new WorkOnRun($run->id));
    }

    /** @param string $act what somebody did about it: a code of translations/ under "log" */
    public function note(Run $run, string $act, string $by): void
    {
        $subject = $run->subject();
        [$code, $tray, $of] = match (true) {
            null === $subject => [$act.'_of_shop', null, []],
            // A name can be taken out of the records, and not out of the log.
            $subject instanceof Customer => [$act.'_of_customer', null, ['customer_id' => $subject->id()]],
            default => [$act, $subject->tray->number, ['edition' => $subject->edition]],
        };
        $this->log->noteWithFlush($by, $code, $tray, ['kind' => $run->kind, ...$of]);
    }
}
