<?php

declare(strict_types=1);

namespace Geschenk\Core\Restore;

/** A rule of the job stands against writing to the phone. The message says which, and what to do. */
final class RestoreRefused extends \RuntimeException
{
    public static function wrongTag(string $tag): self
    {
        return new self(sprintf('The confirmation does not name the receiving phone. Type its tag, %s.', $tag));
    }

    public static function notRehearsed(): self
    {
        return new self('The rehearsal did not tally, or there was none. Convert again before anything is written to a phone.');
    }

    public static function nothingRehearsed(): self
    {
        return new self('What was rehearsed has no files, so there is nothing to restore. Convert again; nothing was written.');
    }

    public static function changedSinceRehearsal(string $path): self
    {
        return new self(sprintf('%s is no longer what was rehearsed. Nothing was changed on the phone. Convert again, then restore.', $path));
    }

    public static function otherChoices(): self
    {
        return new self('Something else was chosen since the rehearsal. Convert again with what is chosen now, then restore.');
    }

    public static function notWhole(string $path): self
    {
        return new self(sprintf('%s did not reach the phone whole. Nothing was changed on it; go on to bring it again.', $path));
    }

    public static function otherFiles(int $found, int $belong): self
    {
        return new self(sprintf('%d files are staged on the phone where %d belong. Nothing was changed on it; go on to bring them again.', $found, $belong));
    }

    public static function holdsChats(int $conversations, int $messages): self
    {
        return new self(sprintf('The receiving phone holds %d conversations with %d messages, which would be lost. Nothing was written. Take another receiving phone, or keep these chats elsewhere first.', $conversations, $messages));
    }
}
