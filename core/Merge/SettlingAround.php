<?php

declare(strict_types=1);

namespace Geschenk\Core\Merge;

use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\Person;

/** What stands around the messages of two phones: settings are those of the phone that was used last. */
final class SettlingAround
{
    /**
     * @param int|null $last when somebody last said something in the newer one, milliseconds since 1970 UTC
     */
    public static function conversation(Conversation $older, Conversation $newer, ?int $last = null): Conversation
    {
        return $newer->with([
            'title' => $newer->title ?? $older->title, 'about' => $newer->about ?? $older->about,
            'createdAt' => null === $newer->createdAt || null === $older->createdAt
                ? $newer->createdAt ?? $older->createdAt
                : min($newer->createdAt, $older->createdAt),
            // A draft that is there no more was sent, or thrown away.
            'wallpaper' => $newer->wallpaper ?? $older->wallpaper, 'draft' => $newer->draft,
            'picture' => $newer->picture ?? $older->picture,
            'labels' => [] === $newer->labels ? $older->labels : $newer->labels,
            'members' => self::members($older, $newer, $last),
            'opaque' => $newer->opaque + $older->opaque,
        ]);
    }

    /**
     * What differs between the two, and how it is settled.
     *
     * @return array<string, string> word of the way by word of the aspect
     */
    public static function differences(Conversation $older, Conversation $newer, Conversation $united): array
    {
        $ways = [];
        [$before, $after, $settled] = [$older->settings(), $newer->settings(), $united->settings()];
        foreach (array_keys($settled) as $aspect) {
            if ($before[$aspect] !== $after[$aspect]) {
                $ways[$aspect] = match (true) {
                    'created_at' === $aspect => 'earlier',
                    $settled[$aspect] === $after[$aspect] => 'used_last',
                    default => 'where_it_is',
                };
            }
        }
        $of = static fn (Conversation $c): array => array_map(
            static fn (Member $m): array => $m->canonical(), $c->members,
        );
        if ($of($older) !== $of($newer)) {
            $in = static fn (Conversation $c): int => count(array_filter(
                $c->members, static fn (Member $m): bool => null === $m->leftAt,
            ));
            $ways['members'] = $in($united) < max($in($older), $in($newer)) ? 'left' : 'both';
        }
        if ($older->opaque !== $newer->opaque) {
            $ways['opaque'] = 'both';
        }

        return $ways;
    }

    public static function person(Person $older, Person $newer): Person
    {
        return new Person(
            $newer->key, $newer->number ?? $older->number, $newer->bookName ?? $older->bookName,
            $newer->ownName ?? $older->ownName, $newer->barred,
            array_values(array_unique([...$newer->otherNumbers, ...$older->otherNumbers])),
            $newer->formerKey ?? $older->formerKey,
        );
    }

    /** @return array<string, string> as differences() */
    public static function differencesOfPeople(Person $older, Person $newer): array
    {
        $ways = [];
        foreach (['book_name' => 'bookName', 'own_name' => 'ownName', 'former_key' => 'formerKey'] as $aspect => $of) {
            if ($older->{$of} !== $newer->{$of}) {
                $ways[$aspect] = null === $newer->{$of} ? 'where_it_is' : 'used_last';
            }
        }
        if ($older->barred !== $newer->barred) {
            $ways['barred'] = 'used_last';
        }
        if ([] !== array_diff($older->otherNumbers, $newer->otherNumbers)
            || [] !== array_diff($newer->otherNumbers, $older->otherNumbers)) {
            $ways['other_numbers'] = 'both';
        }

        return $ways;
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
     * @return list<CannedAnswer> those of the phone that was used last first; each that says something else stays
     */
    public static function cannedAnswers(array $older, array $newer): array
    {
        $said = array_map(self::said(...), $newer);

        return [...$newer, ...array_values(array_filter(
            $older, static fn (CannedAnswer $answer): bool => !in_array(self::said($answer), $said, true),
        ))];
    }

    /**
     * @param list<CannedAnswer> $older
     * @param list<CannedAnswer> $newer
     *
     * @return int answers that come beside others of the same shortcut
     */
    public static function sharedShortcuts(array $older, array $newer): int
    {
        $shortcuts = array_map(static fn (CannedAnswer $answer): string => $answer->shortcut, $newer);
        $said = array_map(self::said(...), $newer);

        return count(array_filter($older, static fn (CannedAnswer $answer): bool => in_array(
            $answer->shortcut, $shortcuts, true,
        ) && !in_array(self::said($answer), $said, true)));
    }

    private static function said(CannedAnswer $answer): string
    {
        return strlen($answer->shortcut).':'.$answer->shortcut.$answer->text;
    }

    /**
     * Nobody is dropped: who has left is known to have left. So is, in a group, whom the phone that was used last knows
     * as none of its members any more.
     *
     * @return list<Member> in the order of their keys, as a store has them
     */
    private static function members(Conversation $older, Conversation $newer, ?int $last): array
    {
        $settled = [];
        foreach ($newer->members as $member) {
            $settled['p'.$member->personKey] ??= $member;
        }
        $isKnown = ConversationKind::Group === $newer->kind && [] !== $newer->members;
        foreach ($older->members as $member) {
            $settled['p'.$member->personKey] ??= $isKnown && null === $member->leftAt
                ? new Member($member->personKey, $member->role, $member->joinedAt, $last ?? $newer->createdAt ?? 1)
                : $member;
        }
        ksort($settled, \SORT_STRING);

        return array_values($settled);
    }
}
