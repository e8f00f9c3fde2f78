<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Conversion;

use Geschenk\App\Bench\Looks;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Work\CommonKind;
use Geschenk\App\Work\Guards;
use Geschenk\App\Work\SafetyCopies;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Merge\Held;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\GuardedLink;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Progress;
use Psr\Clock\ClockInterface;

/**
 * Converts a move's backup into a scratch folder and rehearses it there; the record says how it tallied.
 *
 * @phpstan-import-type ScopeArray from Scope
 */
final class ConversionKind extends CommonKind
{
    /** Remembers, for an attempt that is killed, with what it was begun. */
    private const BEGUN = 'begun.json';
    /** In all stores that are made of the chats, and in the messenger's own. */
    private const BYTES_OF_A_MESSAGE = 4_000;

    public function __construct(
        private readonly Formats $formats,
        private readonly Phones $phones,
        private readonly MoveFiles $files,
        private readonly RunSheet $sheet,
        private readonly Records $records,
        private readonly ClockInterface $clock,
        private readonly ChatReading $reading,
        private readonly SafetyCopies $copies,
        private readonly PhoneDirectory $directory,
        private readonly Looks $looks,
        private readonly Guards $guards,
    ) {
    }

    public static function name(): string
    {
        return 'conversion';
    }

    public function stage(): Stage
    {
        return Stage::Convert;
    }

    /** Of the phone that receives, where it is merged with what that holds. */
    public function phone(Move $move): ?TrayPhone
    {
        return $move->bringing()->merges() ? $move->to() : null;
    }

    public function phases(Move $move): array
    {
        return [
            ...($move->bringing()->merges() ? [Phase::safetyCopy()] : []),
            new Phase('verifying', Phase::BYTES), new Phase('planning', Phase::MESSAGES),
            new Phase('writing', Phase::MESSAGES), new Phase('reading', Phase::MESSAGES),
            new Phase('comparing', Phase::MESSAGES), new Phase('sealing', Phase::BYTES),
        ];
    }

    public function ensureItsTurn(Move $move): void
    {
        Guards::ensureNotRestored($move);
        $backup = $move->backup() ?? throw Refusal::because('no_backup');
        $backup->isKept() ?: throw Refusal::because('erased');
    }

    public function ensureMayBegin(Move $move): void
    {
        if ($move->bringing()->merges()) {
            $this->guards->ensurePlugged($move->to());
        }
    }

    /** That somebody looked, or what was chosen; each once. */
    public function note(Run $run): void
    {
        $move = $run->move();
        $tray = $move->tray;
        $backup = $move->backup();
        if (null === $backup) {
            return;
        }
        $brings = $move->bringing()->brings();
        [$code, $params] = null === $move->bringing()->scope() || null === $brings ? ['looked', [
            'conversations' => $backup->conversations, 'messages' => $backup->messages,
        ]] : ['chosen', [
            'messages' => $brings['messages'], 'brought_bytes' => $brings['bytes'],
            'left_out' => $brings['left_out'], 'files' => $brings['without_file'],
        ]];
        $noted = array_filter(
            $tray->steps(),
            static fn (Step $step): bool => Stage::Choose === $step->stage && $step->move === $move,
        );
        $last = [] === $noted ? null : end($noted);
        if ($code !== $last?->code || $params !== $last->params) {
            $this->sheet->note($move, Stage::Choose, $run->askedBy(), $code, $params);
        }
    }

    public function ensurePossible(Run $run): void
    {
        if (null !== $run->serial()) {
            Fitness::ensure($this->directory->link($run->serial())->state(), Fitness::GOES_ON_AT);
        }
    }

    public function undo(Run $run): Undone
    {
        // Of a merge, what was copied of the receiving phone too: it belongs to nobody any more.
        return new Undone(
            $this->files->discardMade($run->move()) + $this->copies->drop($run),
        );
    }

    public function do(Run $run, Progress $progress): void
    {
        $move = $run->move();
        $record = $move->backup() ?? throw Refusal::because('no_backup');
        // What was kept is verified again whenever it is used.
        $progress->phase('verifying');
        $backup = $this->files->verified($record);
        $chats = $backup->chats();
        $platform = $this->phones->find($move->to()->serial)?->state()->platform
            ?? throw Refusal::because('not_on_bench', ['serial' => $move->to()->serial]);
        // The record goes before its files: nobody is told of a conversion that is being made anew.
        $this->records->change(static fn () => $move->bringing()->rehearsed(null));
        $this->files->clearConversion($move);
        // Seen before it is copied: what comes in meanwhile has changed it.
        $mark = $this->markOf($run);
        $copy = $this->toMergeWith($run, $progress);
        $there = null === $copy ? null : $this->held($move, $copy, $progress);
        [$begun, $converted] = $this->files->makeIn(
            $move, self::bytesAbout($record, $copy),
            function (string $part) use ($move, $record, $platform, $backup, $chats, $copy, $there, $progress): array {
                $begun = $this->begin($move, $record, $platform->value, $part, $copy);
                $conversion = new Conversion(
                    $this->formats, $this->reading, $chats, $backup->files(true), $part, $platform, $there,
                );
                $converted = $conversion->run(
                    $begun['judged_at'], $begun['choices'], $progress, Scope::of($begun['scope']),
                );
                $this->files->keepConversion($move, $part, $progress);

                return [$begun, $converted];
            },
        );
        $losses = array_map(static fn (Loss $loss): array => $loss->toArray(), $converted->losses);
        $move->bringing()->rehearsed([
            ...$begun, 'losses' => $losses, 'attachments_absent' => $converted->attachmentsAbsent,
            'totals' => $converted->totals->toArray(), 'bytes' => $converted->bytes,
            'merge' => $converted->merge?->toArray(), 'merged_mark' => $mark,
            'plan' => $this->files->planHash($move),
        ]);
        $totals = $converted->totals;
        $by = $run->askedBy();
        if (null !== $converted->merge) {
            $this->sheet->note($move, Stage::Convert, $by, 'merged', [
                'tag' => $move->to()->tag, 'brought' => $converted->merge->brought, 'there' => $converted->merge->there,
                'both' => $converted->merge->both,
            ]);
        }
        if ($totals->complete()) {
            $this->sheet->note($move, Stage::Convert, $by, 'converted', [
                'platform' => $platform->value, 'messages' => $totals->messages, 'losses' => count($losses),
                // As the sums say it: a message of several losses has changed once.
                'touched' => $totals->changed, 'left_out' => $totals->leftOut,
            ]);
        } else {
            $this->sheet->note($move, Stage::Convert, $by, 'does_not_tally', [
                'missing' => $totals->missing + $totals->addedMissing, 'extra' => $totals->extra,
            ]);
        }
    }

    /**
     * What the phone holds by now, behind all that it held when it was merged with before: that stays expected there,
     * and comes from its safety copy where it is there no more.
     */
    private function held(Move $move, Backup $copy, Progress $progress): Held
    {
        $before = null;
        foreach ($this->copies->kept($move) as $kept) {
            $progress->phase('verifying');
            $backup = $this->files->verified($kept);
            $before = new Held($backup->chats(), $backup->files(true), null !== $before, $before);
        }
        $progress->phase('verifying');
        $there = $this->files->verified($copy);

        return new Held($there->chats(), $there->files(true), $move->bringing()->completes(), $before);
    }

    /** What a conversion takes while it is made: its files, and the chats some times over. */
    private static function bytesAbout(Backup $record, ?Backup $copy): int
    {
        $bytes = 0;
        foreach (null === $copy ? [$record] : [$record, $copy] as $one) {
            $bytes += $one->attachmentBytes + self::BYTES_OF_A_MESSAGE * $one->messages;
        }

        return $bytes;
    }

    private function markOf(Run $run): ?string
    {
        $serial = $run->serial();

        return null === $serial
            ? null
            : Looks::mark($this->looks->glance($this->directory->link($serial), $run->move()->app));
    }

    /** What the receiving phone holds, copied whole and read back from the disk; null where it is replaced. */
    private function toMergeWith(Run $run, Progress $progress): ?Backup
    {
        if (null === $run->serial()) {
            return null;
        }
        $link = new GuardedLink($this->directory->link($run->serial()));

        return $this->copies->toMergeWith($run, $link, $progress);
    }

    /**
     * Goes on with the files that an interrupted attempt with the same choices has written: they are many, and the
     * same.
     *
     * @return array{
     *     choices: array<string, string>, scope: ScopeArray|null, judged_at: int, backup: string, platform: string,
     *     merged_with: string|null,
     * } times in ms
     */
    private function begin(Move $move, Backup $backup, string $platform, string $part, ?Backup $copy): array
    {
        $now = [
            'choices' => $move->bringing()->choices(), 'scope' => $move->bringing()->scope(),
            'judged_at' => $this->clock->now()->getTimestamp() * 1000,
            'backup' => $backup->id, 'platform' => $platform, 'merged_with' => $copy?->id,
        ];
        $path = $part.'/'.self::BEGUN;
        $begun = is_file($path) ? json_decode((string) @file_get_contents($path), true, 8) : null;
        $same = ['choices' => 0, 'scope' => 0, 'backup' => 0, 'platform' => 0, 'merged_with' => 0];
        if (is_array($begun) && array_intersect_key($begun, $same) === array_intersect_key($now, $same)
            && is_int($begun['judged_at'] ?? null)) {
            return ['judged_at' => $begun['judged_at']] + $now;
        }
        Folder::remove($part);
        Folder::make($part);
        Disk::put($path, json_encode($now, \JSON_THROW_ON_ERROR));

        return $now;
    }
}
