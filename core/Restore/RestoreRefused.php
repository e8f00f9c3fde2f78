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

    public static function holdsChats(int $conversations, int $messages): self
    {
        return new self(sprintf('The receiving phone holds %d conversations with %d messages, which would be lost. Nothing was written. Take another receiving phone, or keep these chats elsewhere first.', $conversations, $messages));
    }
}
