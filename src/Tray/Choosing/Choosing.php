<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Choosing;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Habit;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\Standing\TrayReadiness;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Conversion\Scope;
use Geschenk\Core\Conversion\ScopeSum;
use Geschenk\Core\Conversion\Trial;

/**
 * What of a backup goes across: counted before it is chosen, and kept with the move.
 *
 * @phpstan-import-type Brings from Bringing
 */
final readonly class Choosing
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private MoveFiles $files,
        private Phones $phones,
        private TrayReadiness $readiness,
        private ShopLog $log,
    ) {
    }

    public function sum(Move $move, Scope $scope): ScopeSum
    {
        return ScopeSum::of($this->files->chats($this->backup($move)), $scope);
    }

    /**
     * What the choice asks of the phone that receives.
     *
     * @return array{needed_bytes: int, free_bytes: int|null, fits: bool|null} fits: null while nobody sees its space
     */
    public function asked(Move $move, int $bytes): array
    {
        $job = $this->readiness->jobOf($move, $bytes);
        $free = $this->phones->state($move->to()->serial)?->free;

        return [
            'needed_bytes' => $job->space(), 'free_bytes' => $free, 'fits' => null === $free
                ? null
                : $free >= $job->space(),
        ];
    }

    /** @throws Refusal when there is no such group or conversation */
    public function scope(Move $move, ScopeAsked $asked): Scope
    {
        if (null !== $asked->since && null !== $asked->before && $asked->since >= $asked->before) {
            throw Refusal::because('no_days_between');
        }
        $keys = [];
        if ([] !== $asked->conversations || null !== $asked->trialOf) {
            $keys = iterator_to_array($this->files->chats($this->backup($move))->keys());
        }

        return new Scope(
            array_map(self::group(...), array_values(array_unique($asked->groups))),
            array_map(
                static fn (int $id): string => $keys[$id] ?? throw Refusal::because('no_such_conversation'),
                array_values(array_unique($asked->conversations)),
            ),
            $asked->since, $asked->before, match (true) {
                null !== $asked->trialOf => Trial::ofConversation(
                    $keys[$asked->trialOf] ?? throw Refusal::because('no_such_conversation'),
                ),
                null !== $asked->trialNewest => Trial::ofNewest($asked->trialNewest),
                default => null,
            },
        );
    }

    /** @return int|null id in the backup's chats of the conversation that a trial brings */
    public function trialOf(Move $move): ?int
    {
        $key = Scope::of($move->bringing()->scope())->trial?->conversation;
        foreach (null === $key ? [] : $this->files->chats($this->backup($move))->keys() as $id => $other) {
            if ($other === $key) {
                return $id;
            }
        }

        return null;
    }

    /**
     * What comes on top of a trial, with what was brought already.
     *
     * @return array{Scope, Brings}
     */
    public function rest(Move $move): array
    {
        $scope = Scope::of($move->bringing()->scope())->withoutTrial();

        return [$scope, self::brings($this->sum($move, $scope))];
    }

    /** How many people of the backup have a number and a name. */
    public function named(Move $move): int
    {
        $named = 0;
        foreach ($this->files->chats($this->backup($move))->people() as $person) {
            $isNamed = null !== $person->number && '' !== trim($person->bookName ?? $person->ownName ?? '');
            $named += (int) $isNamed;
        }

        return $named;
    }

    /** @return Brings */
    private static function brings(ScopeSum $sum): array
    {
        return [
            'messages' => $sum->messages, 'bytes' => $sum->bytes, 'left_out' => $sum->leftOut,
            'without_file' => $sum->withoutFile,
        ];
    }

    /**
     * Ids in the backup's chats of those that are left out: some of another backup may not be there.
     *
     * @return list<int>
     */
    public function leftOut(Move $move): array
    {
        $left = array_flip(Scope::of($move->bringing()->scope())->conversations);
        $ids = [];
        foreach ([] === $left ? [] : $this->files->chats($this->backup($move))->keys() as $id => $key) {
            if (isset($left[$key])) {
                $ids[] = $id;
            }
        }

        return $ids;
    }

    /**
     * Keeps what is chosen for a move; what was converted of another choice counts no more.
     *
     * @param bool|null $names whether people's names are brought too; null leaves it as it is
     *
     * @throws Refusal
     */
    public function choose(MoveAt $at, Scope $scope, bool $merges, string $by, ?bool $names = null): void
    {
        // Counted before: it may take seconds, and nobody else could change anything meanwhile.
        $counted = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $at->tray])?->move($at->place)
            ?? throw Refusal::because('no_such_move');
        $backup = $this->backup($counted)->id;
        $sum = $this->sum($counted, $scope);
        $change = function (Tray $tray) use ($at, $scope, $merges, $by, $backup, $sum, $names): void {
            $move = $tray->move($at->place) ?? throw Refusal::because('no_such_move');
            if (null !== $tray->closedAt()) {
                throw Refusal::because('tray_closed');
            }
            if ($tray->onlyBacksUp()) {
                throw Refusal::because('only_backs_up');
            }
            $bringing = $move->bringing();
            if ($bringing->isInPlace()) {
                throw Refusal::because('choice_after_restore');
            }
            if ($move->isBusy()) {
                throw Refusal::because('busy', ['edition' => $move->edition]);
            }
            if ($move->backup()?->id !== $backup || !$move->isStill($at->after)) {
                throw Refusal::because('meanwhile', ['edition' => $move->edition]);
            }
            if (0 === $sum->messages && $sum->leftOut > 0) {
                throw Refusal::because('nothing_chosen');
            }
            $bringing->wantNames($names ?? $bringing->wantsNames());
            $before = [$bringing->scope(), $bringing->merges()];
            $bringing->bring($scope->isAll() ? null : $scope->toArray(), self::brings($sum), $merges);
            if ($before !== [$bringing->scope(), $bringing->merges()]) {
                $this->log->noteWithFlush($by, 'chose_what', $tray->number, [
                    'edition' => $move->edition, 'messages' => $sum->messages, 'left_out' => $sum->leftOut,
                    'way' => $merges ? 'merge' : 'replace',
                ]);
            }
        };
        $this->records->changeTray($at->tray, $change);
    }

    public function habit(): ?Habit
    {
        return $this->entities->find(Habit::class, Habit::ID);
    }

    /**
     * @param list<string> $groups names of FileGroup
     *
     * @throws Refusal when there is no such group
     */
    public function keepHabit(array $groups, bool $archived, bool $empty, ?int $quietMonths, string $by): void
    {
        $names = array_map(
            static fn (string $group): string => self::group($group)->value, array_values(array_unique($groups)),
        );
        $this->records->change(function () use ($names, $archived, $empty, $quietMonths, $by): void {
            $habit = $this->habit() ?? new Habit();
            $habit->keep($names, $archived, $empty, $quietMonths);
            $this->entities->persist($habit);
            $this->log->noteWithFlush($by, 'kept_habit', null, []);
        });
    }

    private static function group(string $name): FileGroup
    {
        return FileGroup::tryFrom($name) ?? throw Refusal::because('no_such_group');
    }

    private function backup(Move $move): Backup
    {
        if (!$move->tray->keepsChats()) {
            throw Refusal::because('erased');
        }
        if ($move->tray->onlyBacksUp()) {
            throw Refusal::because('only_backs_up');
        }

        $backup = $move->backup() ?? throw Refusal::because('no_backup');

        return $backup->isKept() ? $backup : throw Refusal::because('erased');
    }
}
