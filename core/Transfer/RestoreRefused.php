<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Failure;

/** A rule of the job stands against writing to the phone. */
final class RestoreRefused extends Failure
{
    /**
     * What was agreed to, or rehearsed, is no more as it was: the same again is refused again, whatever is done on the
     * phone. It has to be asked for anew, of what there is now.
     */
    public const ASK_ANEW = [
        'wrong_tag', 'not_rehearsed', 'nothing_rehearsed', 'list_changed', 'changed_since_rehearsal', 'other_choices',
        'changed_since_merge', 'unreadable_there', 'holds_chats',
    ];

    public static function wrongTag(string $tag): self
    {
        return new self('wrong_tag', ['tag' => $tag]);
    }

    public static function notRehearsed(): self
    {
        return new self('not_rehearsed');
    }

    public static function nothingRehearsed(): self
    {
        return new self('nothing_rehearsed');
    }

    public static function listChanged(): self
    {
        return new self('list_changed');
    }

    public static function changedSinceRehearsal(string $path): self
    {
        return new self('changed_since_rehearsal', ['path' => $path]);
    }

    public static function otherChoices(): self
    {
        return new self('other_choices');
    }

    public static function notWhole(string $path): self
    {
        return new self('not_whole', ['path' => $path]);
    }

    public static function otherFiles(int $found, int $belong): self
    {
        return new self('other_files', ['found' => $found, 'belong' => $belong]);
    }

    public static function changedSinceMerge(): self
    {
        return new self('changed_since_merge');
    }

    public static function noSafetyCopy(): self
    {
        return new self('no_safety_copy');
    }

    public static function notCopiedWhole(string $path): self
    {
        return new self('not_copied_whole', ['path' => $path]);
    }

    public static function notAsBefore(string $path): self
    {
        return new self('not_as_before', ['path' => $path]);
    }

    public static function otherFilesThanBefore(int $found, int $belong): self
    {
        return new self('other_files_than_before', ['found' => $found, 'belong' => $belong]);
    }

    /** @param int $messages of the phone that is written to, that can't be read */
    public static function unreadableThere(int $messages): self
    {
        return new self('unreadable_there', ['messages' => $messages]);
    }

    public static function holdsChats(int $conversations, int $messages): self
    {
        return new self('holds_chats', ['conversations' => $conversations, 'messages' => $messages]);
    }
}
