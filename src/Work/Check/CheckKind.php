<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Check;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Work\Guards;
use Geschenk\App\Work\PhoneKind;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\PhoneChats;
use Psr\Clock\ClockInterface;

/** The arrival check: reads the receiving phone back to the last byte and compares with what was meant to go there. */
final class CheckKind extends PhoneKind
{
    /** Times what was planned that what is read back and its lines take, with what SQLite writes beside them. */
    private const STORES = 3;

    public function __construct(
        PhoneDirectory $phones,
        private readonly PhoneChats $reader,
        private readonly MoveFiles $files,
        private readonly Records $records,
        private readonly EntityManagerInterface $entities,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
        private readonly Guards $guards,
    ) {
        parent::__construct($phones);
    }

    public static function name(): string
    {
        return 'check';
    }

    public function stage(): Stage
    {
        return Stage::Check;
    }

    public function phases(Move $move): array
    {
        return [
            new Phase(Phase::BEFORE_THE_FIRST, Phase::BYTES, true), new Phase('reading', Phase::BYTES, true),
            new Phase('comparing', Phase::MESSAGES),
        ];
    }

    public function ensureItsTurn(Move $move): void
    {
        $move->bringing()->isInPlace() ?: throw Refusal::because('nothing_restored');
    }

    public function ensureMayBegin(Move $move): void
    {
        $this->guards->ensureSettled($move);
    }

    public function ensurePossible(Run $run): void
    {
        parent::ensurePossible($run);
        Fitness::ensureSettled($this->link($run)->state(), $run->move()->app);
    }

    /** What was being read back goes; what was checked before stays. */
    public function undo(Run $run): Undone
    {
        return new Undone($this->files->discardMade($run->move()));
    }

    public function do(Run $run, Progress $progress): void
    {
        $move = $run->move();
        if (null !== $this->entities->getRepository(Check::class)->findOneBy(['runId' => $run->id])) {
            return;
        }
        $this->files->verifyPlan($move);
        $plan = $this->files->plan($move);
        $this->files->discardMade($move);
        $bytes = self::STORES * $this->files->planBytes($move);
        try {
            $totals = $this->files->makeIn($move, $bytes, function (string $place) use (
                $run, $move, $plan, $progress,
            ): Totals {
                [$readBack, $lines] = [$place.'/read-back.sqlite', $place.'/lines.sqlite'];
                $this->reader->read($this->link($run), $move->app, $readBack, true, $progress);
                $totals = (new Comparison($plan, new ChatStore($readBack)))->run($lines, $progress)->totals();
                $this->files->keepReadBack($move, $readBack);
                $this->files->keepResult($move, $run->id, $lines);

                return $totals;
            });
        } finally {
            // Whatever stopped it: it is read anew the next time.
            $this->files->discardMade($move);
        }
        // The same sum as in the rehearsal, which is the backup's.
        $rehearsed = $move->bringing()->rehearsal()['totals']['messages'] ?? $totals->messages;
        if ($rehearsed !== $totals->messages) {
            throw new \LogicException(sprintf(
                '%d messages are accounted for, and %d were rehearsed.', $totals->messages, $rehearsed,
            ));
        }
        $this->records->change(function () use ($run, $totals): void {
            $move = $run->move();
            $bringing = $move->bringing();
            $check = new Check($bringing, $run->id, $this->clock->now(), $run->askedBy(), $totals);
            $this->entities->persist($check);
            $bringing->checked($check);
            $this->sheet->note($move, Stage::Check, $run->askedBy(), 'checked', [
                'tag' => $move->to()->tag, 'arrived' => $totals->arrived, 'changed' => $totals->changed,
                'left_out' => $totals->leftOut, 'missing' => $totals->missing, 'extra' => $totals->extra,
            ]);
        });
    }
}
