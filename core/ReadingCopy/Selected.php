<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Store\Lines\Choice;

/**
 * What of a backup is taken for reading; all of it where nothing is said.
 *
 * As an array, keys of conversations are hexadecimal: they come from a phone and may hold any byte.
 *
 * @phpstan-type SelectedArray array{
 *     conversations: list<string>|null, since: int|null, before: int|null, groups: list<string>|null, text: bool,
 * }
 */
final readonly class Selected implements Choice
{
    /**
     * @param list<string>|null    $conversations keys of those that are taken
     * @param int|null             $since         messages from then on, milliseconds since 1970 UTC
     * @param int|null             $before        messages from before then, milliseconds since 1970 UTC
     * @param list<FileGroup>|null $groups        of messages with files, those that are taken
     * @param bool                 $text          whether messages without files are taken
     */
    public function __construct(
        public ?array $conversations = null,
        public ?int $since = null,
        public ?int $before = null,
        public ?array $groups = null,
        public bool $text = true,
    ) {
    }

    public function isAll(): bool
    {
        return null === $this->conversations && $this->isWholeConversations();
    }

    public function isWholeConversations(): bool
    {
        return null === $this->since && null === $this->before && null === $this->groups && $this->text;
    }

    public function hasConversation(string $key): bool
    {
        return null === $this->conversations || in_array($key, $this->conversations, true);
    }

    public function hasMessage(Kind $kind, int $sentAt): bool
    {
        return (null === $this->since || $sentAt >= $this->since) && (null === $this->before || $sentAt < $this->before)
            && $this->hasKind($kind);
    }

    public function hasKind(Kind $kind): bool
    {
        foreach (FileGroup::cases() as $group) {
            if (in_array($kind, $group->kinds(), true)) {
                return null === $this->groups || in_array($group, $this->groups, true);
            }
        }

        return $this->text;
    }

    /** @return SelectedArray */
    public function toArray(): array
    {
        return [
            'conversations' => null === $this->conversations ? null : array_map(bin2hex(...), $this->conversations),
            'since' => $this->since, 'before' => $this->before,
            'groups' => null === $this->groups
                ? null
                : array_map(static fn (FileGroup $group): string => $group->value, $this->groups),
            'text' => $this->text,
        ];
    }

    /**
     * @param SelectedArray $told as toArray() told it
     *
     * @throws \ValueError when it names a group that there is not
     */
    public static function of(array $told): self
    {
        return new self(
            null === $told['conversations'] ? null : array_map(
                static fn (string $key): string => (string) hex2bin($key), $told['conversations'],
            ),
            $told['since'], $told['before'],
            null === $told['groups'] ? null : array_map(FileGroup::from(...), $told['groups']), $told['text'],
        );
    }
}
