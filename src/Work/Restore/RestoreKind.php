<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Restore;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Contacts\Names;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Tray\Choosing\Merging;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Standing\TrayReadiness;
use Geschenk\App\Work\Check\CheckKind;
use Geschenk\App\Work\Guards;
use Geschenk\App\Work\SafetyCopies;
use Geschenk\App\Work\WritingKind;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\Transfer\Unreadable;
use Psr\Clock\ClockInterface;

/**
 * Keeps what the receiving phone holds, stages the converted chats beside it, verifies them there, swaps them in; the
 * arrival check follows.
 */
final class RestoreKind extends WritingKind
{
    public function __construct(
        PhoneDirectory $phones,
        Restorer $restorer,
        SafetyCopies $copies,
        MoveFiles $files,
        private readonly Looks $looks,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
        private readonly EntityManagerInterface $entities,
        private readonly Records $records,
        private readonly Names $names,
        private readonly Guards $guards,
        private readonly Phones $seen,
        private readonly TrayReadiness $readiness,
        private readonly Merging $merging,
    ) {
        parent::__construct($phones, $restorer, $copies, $files);
    }

    public static function name(): string
    {
        return 'restore';
    }

    public function stage(): Stage
    {
        return Stage::Restore;
    }

    public function phases(Move $move): array
    {
        return [
            // A merge has copied it already.
            ...($move->bringing()->merges() ? [] : [Phase::safetyCopy()]), new Phase('staging', Phase::BYTES, true),
            new Phase('verifying', Phase::BYTES, true),
        ];
    }

    public function next(): string
    {
        return CheckKind::name();
    }

    public function ensureItsTurn(Move $move): void
    {
        Guards::ensureNotRestored($move);
        $bringing = $move->bringing();
        $bringing->rehearsal() ?? throw Refusal::because('nothing_converted');
        if (!$bringing->isAsChosen()) {
            throw RestoreRefused::otherChoices();
        }
        if (!$bringing->isRehearsed()) {
            throw RestoreRefused::notRehearsed();
        }
    }

    public function ensureMayBegin(Move $move): void
    {
        $this->guards->ensurePlugged($move->to());
        Guards::ensureReady($this->readiness->lackingToRestore($move));
        if ($move->bringing()->merges() && $this->merging->isStale($move)) {
            throw RestoreRefused::changedSinceMerge();
        }
    }

    public function ensureAgreed(Move $move, Asked $asked): void
    {
        $bringing = $move->bringing();
        $rehearsal = $bringing->rehearsal() ?? throw Refusal::because('nothing_converted');
        $receiving = $move->to();
        $totals = Totals::of($rehearsal['totals']);
        $agreed = new AgreedTo(
            $receiving->tag, $asked->confirmedTag ?? '', $asked->replaces, $asked->unreadable,
        );
        if ($bringing->merges()) {
            RestorePermit::toMerge(
                new ReceiverSeen('', copied: '', unreadable: Unreadable::of($rehearsal['merge'] ?? [])), $agreed,
                $totals,
            );

            return;
        }
        $counts = $this->seen->holding($receiving->serial, $move->app)?->counts();
        RestorePermit::grant(new ReceiverSeen(
            '', $counts['conversations'] ?? 0, $counts['messages'] ?? 0, '', Unreadable::of($counts ?? []),
        ), $agreed, $totals);
    }

    public function do(Run $run, Progress $progress): void
    {
        $move = $run->move();
        $link = $this->link($run);
        // An interruption may have come behind the swap: the phone itself says so.
        if ($link->swapped($move->app) !== $run->id) {
            $copy = $this->safetyCopy($run, $link, $progress);
            try {
                $manifest = $this->files->manifest($move);
                $staged = $this->restorer->stage(
                    $this->permit($run, $copy), new Staging($link, $move->app, $run->id),
                    $this->files->converted($move), $manifest, $progress,
                );
                // Staging takes a while: prove once more that nothing came in meanwhile, and hold the swap to that.
                $names = fn () => $this->bringNames($run, $copy, $link, $progress);
                $this->restorer->swapIn($this->permit($run, $copy), $staged, $link, $progress, $names);
            } catch (RestoreRefused $refusal) {
                $link->dropStage($move->app, $run->id);
                throw $refusal;
            } catch (\UnexpectedValueException) {
                throw RestoreRefused::listChanged();
            }
        } else {
            $copy = $this->mergedWith($run->move()) ?? $this->entities->find(Backup::class, $run->safetyCopyId());
            $this->bringNames($run, $copy, $link, $progress);
            $link->restart();
        }
        $move->bringing()->restored($this->clock->now(), $copy);
        $this->sheet->note(
            $move, Stage::Restore, $run->askedBy(), 'restored', ['tag' => $move->to()->tag],
        );
    }

    /** Behind the chats, for these can still be refused; and before the phone is started anew, and locks itself. */
    private function bringNames(Run $run, ?Backup $copy, PhoneLink $link, Progress $progress): void
    {
        $move = $run->move();
        $bringing = $move->bringing();
        $backup = $bringing->backup();
        if (!$bringing->wantsNames() || null === $backup) {
            return;
        }
        $way = $bringing->wayBack($copy);
        $names = $this->names->bring(
            $link, $this->shown($backup, $way), $run->id, $progress,
            fn (array $counts) => $this->records->change(static fn () => $bringing->bringsNames($run->id, $counts)),
        );
        $names = $bringing->broughtNames($run->id, $names);
        null === $names
            ? $this->sheet->note($move, Stage::Restore, $run->askedBy(), 'names_refused', [
                'tag' => $move->to()->tag,
            ])
            : $this->sheet->note($move, Stage::Restore, $run->askedBy(), 'names_brought', [
                'tag' => $move->to()->tag, ...$names,
            ]);
    }

    /** A merge has its copy already: of the very data that it was merged with. */
    private function safetyCopy(Run $run, PhoneLink $link, Progress $progress): Backup
    {
        if (!$run->move()->bringing()->merges()) {
            return $this->copies->take($run, $link, $progress);
        }
        $copy = $this->mergedWith($run->move()) ?? throw RestoreRefused::notRehearsed();
        $progress->phase('safety_copy');
        // What was kept is verified again whenever it is used.
        $this->files->verified($copy);

        return $copy;
    }

    private function mergedWith(Move $move): ?Backup
    {
        $id = $move->bringing()->rehearsal()['merged_with'] ?? null;

        return null === $id ? null : $this->entities->find(Backup::class, $id);
    }

    private function permit(Run $run, Backup $copy): RestorePermit
    {
        $move = $run->move();
        $bringing = $move->bringing();
        $rehearsal = $bringing->rehearsal();
        if (null !== $rehearsal && !$bringing->isAsChosen()) {
            throw RestoreRefused::otherChoices();
        }
        $totals = null === $rehearsal ? null : Totals::of($rehearsal['totals']);
        // Somebody may have begun to register a number while it was copied.
        Fitness::ensureSettled($this->link($run)->state(), $move->app);
        // Marked before it is read: what comes in while we read has changed it.
        $seen = $this->link($run)->mark($move->app);
        $agreed = new AgreedTo($move->to()->tag, $run->confirmedTag ?? '', $run->replaces, $run->unreadable);
        if ($bringing->merges()) {
            return RestorePermit::toMerge(
                new ReceiverSeen(
                    $seen, copied: $this->copies->mark($copy), unreadable: Unreadable::of($rehearsal['merge'] ?? []),
                ),
                $agreed, $totals,
            );
        }
        $counts = $this->looks->count($this->link($run), $move->app);

        return RestorePermit::grant(new ReceiverSeen(
            $seen, $counts['conversations'], $counts['messages'], $this->copies->mark($copy), Unreadable::of($counts),
        ), $agreed, $totals);
    }
}
