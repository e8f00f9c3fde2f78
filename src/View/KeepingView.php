<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Http\Time;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\HandOver\Keeping;
use Geschenk\App\Words\Words;

/** What the shop keeps of a tray's chats behind the hand-over, until when, or that it was erased. */
final readonly class KeepingView
{
    public function __construct(
        private EntityManagerInterface $entities,
        private MoveFiles $files,
        private Keeping $keeping,
        private RunView $runs,
        private Words $words,
    ) {
    }

    /** @return array<string, mixed>|null null before the hand-over */
    public function of(Tray $tray): ?array
    {
        if (null === $tray->closedAt()) {
            return null;
        }
        $kept = $this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]);
        $erased = null === $tray->erasedAt() ? null : $tray->whatWasErased();
        $accounts = array_filter($kept, static fn (Backup $backup): bool => !$backup->isSafetyCopy());
        $kept = array_filter($kept, static fn (Backup $backup): bool => $backup->isKept());
        $safetyCopies = array_filter($kept, static fn (Backup $backup): bool => $backup->isSafetyCopy());

        return [
            'until' => Time::lastDay($tray->keepUntil()),
            'backups' => count($kept) - count($safetyCopies), 'safety_copies' => count($safetyCopies),
            'bytes' => array_sum(array_map(static fn (Backup $backup): int => $backup->attachmentBytes, $kept)),
            'list' => array_values(array_map($this->ofBackup(...), $accounts)),
            'erase_asked_at' => null === $tray->eraseAskedAt() ? null : Time::iso($tray->eraseAskedAt()),
            'erased_at' => null === $tray->erasedAt() ? null : Time::iso($tray->erasedAt()),
            'erased_by' => null === $tray->erasedAt() ? null : $this->words->who($tray->eraseBy()),
            'erased' => null === $erased ? [] : array_map(fn (array $one): array => [
                ...$one, 'gone' => !$this->files->isThere($one['id'], $one['kind']),
            ], $erased['folders']),
        ];
    }

    /** @return array<string, mixed> one by itself: whether it is whole, until when it stays, or that it is gone */
    public function ofBackup(Backup $backup): array
    {
        $gone = $backup->gone();
        $erasedAt = $backup->erasedAt();
        $trouble = $backup->trouble();
        $run = self::open($backup);

        return [
            'id' => $backup->id, 'edition' => $backup->edition, 'account' => $backup->account,
            'taken_at' => Time::iso($backup->takenAt), 'messages' => $backup->messages,
            'bytes' => $backup->attachmentBytes, 'state' => $backup->state()->value,
            'note' => $backup->note(),
            'locked_at' => null === $backup->lockedAt() ? null : Time::iso($backup->lockedAt()),
            'erased_at' => null === $erasedAt ? null : Time::iso($erasedAt),
            'erased_by' => null === $erasedAt ? null : $this->words->who($backup->eraseBy()),
            'files' => $gone['files'] ?? 0, 'verified_at' => Time::iso($backup->verifiedAt()),
            'until' => $backup->hasItsOwnDay() ? Time::lastDay($backup->keptUntil()) : null,
            'run' => null === $run ? null : $this->runs->of($run, $run->acts()),
            'trouble' => null === $trouble ? null : $this->words->failure($trouble, $backup->troubleParams()),
            'is_there' => BackupState::Erased === $backup->state() && $this->files->isThere($backup->id, 'backup'),
            'may' => $this->may($backup),
        ];
    }

    /** What is under way of it, or stands still. */
    private static function open(Backup $backup): ?Run
    {
        $run = $backup->run();

        return true === $run?->state()->isOver() ? null : $run;
    }

    /** @return list<array{act: string, why: string|null}> */
    private function may(Backup $backup): array
    {
        if (!$backup->isKept()) {
            return [];
        }
        $isIdle = null === self::open($backup);
        $locks = BackupState::Locked === $backup->state()
            ? ['act' => 'unlock', 'why' => null]
            : ['act' => 'lock', 'why' => $this->why(fn () => $this->keeping->ensureMayLock($backup))];

        return [
            ...($isIdle ? [['act' => 'verify', 'why' => null], $locks] : []),
            ['act' => 'keep', 'why' => null],
            ['act' => 'erase', 'why' => $this->why(fn () => $this->keeping->ensureMayEraseBackup($backup))],
        ];
    }

    /** @param callable(): void $ensure */
    private function why(callable $ensure): ?string
    {
        try {
            $ensure();

            return null;
        } catch (Refusal $why) {
            return $this->words->failure($why->reason, $why->fields);
        }
    }
}
