<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/**
 * What somebody chose to leave behind. Everything comes where nothing was chosen; what is left out stays in the backup.
 *
 * As an array, keys of conversations are hexadecimal: they come from a phone and may hold any byte.
 *
 * @phpstan-import-type TrialArray from Trial
 *
 * @phpstan-type ScopeArray array{
 *     groups: list<string>, conversations: list<string>, since: int|null, before: int|null, trial?: TrialArray,
 * }
 */
final readonly class Scope
{
    /**
     * @param list<FileGroup> $groups        whose files are left out
     * @param list<string>    $conversations keys of those that are left out
     * @param int|null        $since         messages from before are left out, milliseconds since 1970 UTC
     * @param int|null        $before        messages from then on are left out, milliseconds since 1970 UTC
     */
    public function __construct(
        public array $groups = [],
        public array $conversations = [],
        public ?int $since = null,
        public ?int $before = null,
        public ?Trial $trial = null,
    ) {
    }

    public function isAll(): bool
    {
        return [] === $this->groups && [] === $this->conversations && null === $this->since && null === $this->before
            && null === $this->trial;
    }

    /** The same with what a trial leaves for later. */
    public function withoutTrial(): self
    {
        return new self($this->groups, $this->conversations, $this->since, $this->before);
    }

    /** @return ScopeArray */
    public function toArray(): array
    {
        $groups = array_map(static fn (FileGroup $group): string => $group->value, $this->groups);
        $conversations = array_map(bin2hex(...), $this->conversations);
        sort($groups);
        sort($conversations, \SORT_STRING);

        return [
            'groups' => $groups, 'conversations' => $conversations, 'since' => $this->since, 'before' => $this->before,
            ...(null === $this->trial ? [] : ['trial' => $this->trial->toArray()]),
        ];
    }

    /**
     * @param ScopeArray|null $scope as toArray() told it; null is everything
     *
     * @throws \ValueError when it names a group that there is not
     */
    public static function of(?array $scope): self
    {
        return null === $scope ? new self() : new self(
            array_map(FileGroup::from(...), $scope['groups']),
            array_map(static fn (string $key): string => (string) hex2bin($key), $scope['conversations']),
            $scope['since'], $scope['before'], Trial::of($scope['trial'] ?? null),
        );
    }
}
