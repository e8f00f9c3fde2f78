<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Person;

/** What stands around the messages of two phones: settings are those of the phone that was used last. */
final class SettlingAround
{
    public static function conversation(Conversation $older, Conversation $newer): Conversation
    {
        return $newer->with([
            'title' => $newer->title ?? $older->title, 'about' => $newer->about ?? $older->about,
            'createdAt' => null === $newer->createdAt || null === $older->createdAt
                ? $newer->createdAt ?? $older->createdAt
                : min($newer->createdAt, $older->createdAt),
            'wallpaper' => $newer->wallpaper ?? $older->wallpaper, 'draft' => $newer->draft ?? $older->draft,
            'picture' => $newer->picture ?? $older->picture,
            'labels' => [] === $newer->labels ? $older->labels : $newer->labels,
            'members' => self::members($older->members, $newer->members),
            'opaque' => $newer->opaque + $older->opaque,
        ]);
    }

    public static function person(Person $older, Person $newer): Person
    {
        return new Person(
            $newer->key, $newer->number ?? $older->number, $newer->bookName ?? $older->bookName,
            $newer->ownName ?? $older->ownName, $newer->barred,
            [] === $newer->otherNumbers ? $older->otherNumbers : $newer->otherNumbers,
            $newer->formerKey ?? $older->formerKey,
        );
    }

    /**
     * @param list<Label> $older
     * @param list<Label> $newer
     *
     * @return list<Label> by name, those of the phone that was used last first
     */
    public static function labels(array $older, array $newer): array
    {
        $names = array_map(static fn (Label $label): string => $label->name, $newer);

        return [...$newer, ...array_values(array_filter(
            $older, static fn (Label $label): bool => !in_array($label->name, $names, true),
        ))];
    }

    /**
     * @param list<CannedAnswer> $older
     * @param list<CannedAnswer> $newer
     *
     * @return list<CannedAnswer> by shortcut, those of the phone that was used last first
     */
    public static function cannedAnswers(array $older, array $newer): array
    {
        $shortcuts = array_map(static fn (CannedAnswer $answer): string => $answer->shortcut, $newer);

        return [...$newer, ...array_values(array_filter(
            $older, static fn (CannedAnswer $answer): bool => !in_array($answer->shortcut, $shortcuts, true),
        ))];
    }

    /**
     * Nobody is dropped: who has left is known to have left.
     *
     * @param list<Member> $older
     * @param list<Member> $newer
     *
     * @return list<Member> in the order of their keys, as a store has them
     */
    private static function members(array $older, array $newer): array
    {
        $settled = [];
        foreach ([...$newer, ...$older] as $member) {
            $settled['p'.$member->personKey] ??= $member;
        }
        ksort($settled, \SORT_STRING);

        return array_values($settled);
    }
}
