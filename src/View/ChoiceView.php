<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\Move;
use Geschenk\App\Shop;
use Geschenk\App\Tray\Choosing\Choosing;
use Geschenk\App\Tray\Time\Forecast;
use Geschenk\App\Words\Words;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Conversion\Scope;

/** What goes across and what stays behind, in numbers and in words. */
final readonly class ChoiceView
{
    public function __construct(
        private Choosing $choosing,
        private Forecast $forecast,
        private Words $words,
    ) {
    }

    /** @return array<string, mixed> what is chosen for a move, and what that brings */
    public function of(Move $move): array
    {
        $bringing = $move->bringing();
        $scope = Scope::of($bringing->scope());

        return [
            'may_choose' => !$bringing->isInPlace() && null === $move->tray->closedAt() && !$move->isBusy(),
            'groups' => $scope->toArray()['groups'], 'conversations' => $this->choosing->leftOut($move),
            'from' => self::day($scope->since), 'to' => self::day($scope->before, -1),
            'merges' => $bringing->merges(),
            'trial_conversation' => $this->choosing->trialOf($move), 'trial_newest' => $scope->trial?->newest,
            'names' => $bringing->wantsNames(), 'named' => $this->choosing->named($move),
            'habit' => $this->choosing->habit()?->toArray(), 'sum' => $this->sum($move, $scope),
        ];
    }

    /** @return array<string, mixed> */
    public function sum(Move $move, Scope $scope): array
    {
        $sum = $this->choosing->sum($move, $scope);
        $groups = $rows = [];
        foreach ($sum->groups as $group => $counts) {
            $groups[] = ['group' => $group, ...$counts];
        }
        foreach ($sum->conversations as $id => $counts) {
            $rows[] = ['id' => $id, ...$counts];
        }

        return [
            'messages' => $sum->messages, 'bytes' => $sum->bytes, 'left_out' => $sum->leftOut,
            'without_file' => $sum->withoutFile, 'groups' => $groups, 'conversations' => $rows,
            ...$this->choosing->asked($move, $sum->bytes),
            'seconds' => $this->forecast->secondsOf($move, $sum->bytes, $sum->messages),
        ];
    }

    /** What stays behind on purpose, in one line; null where all goes across. */
    public function leftOut(Move $move, ?string $language = null): ?string
    {
        $scope = Scope::of($move->bringing()->scope());
        if ($scope->isAll()) {
            return null;
        }
        $parts = array_map(
            fn (FileGroup $group): string => $this->words->say('group.'.$group->value, [], $language), $scope->groups,
        );
        if ([] !== $scope->conversations) {
            $count = ['count' => count($scope->conversations)];
            $parts[] = $this->words->say('left.conversations', $count, $language);
        }
        foreach (['before' => self::day($scope->since), 'after' => self::day($scope->before, -1)] as $side => $day) {
            if (null !== $day) {
                $parts[] = $this->words->say('left.'.$side, [
                    'day' => $this->words->day(new \DateTimeImmutable($day, new \DateTimeZone(Shop::ZONE)), $language),
                ], $language);
            }
        }
        if (null !== $scope->trial) {
            $parts[] = $this->words->say('left.trial', [
                'newest' => $scope->trial->newest ?? 0,
            ], $language);
        }
        $brings = $move->bringing()->brings();

        return $this->words->say('left.all', [
            'list' => implode(', ', $parts), 'count' => $brings['left_out'] ?? 0,
            'files' => $brings['without_file'] ?? 0, 'known' => null === $brings ? 'no' : 'yes',
        ], $language);
    }

    /** A day in the shop's zone, as YYYY-MM-DD. */
    private static function day(?int $milliseconds, int $days = 0): ?string
    {
        return null === $milliseconds ? null : (new \DateTimeImmutable('@'.intdiv($milliseconds, 1000)))
            ->setTimezone(new \DateTimeZone(Shop::ZONE))->modify($days.' days')->format('Y-m-d');
    }
}
