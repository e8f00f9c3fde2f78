<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Progress;
use Symfony\Component\DependencyInjection\Attribute\AutoconfigureTag;

/** A form that chats are read in. One class each, found by being there; its words are under "copy_form". */
#[AutoconfigureTag]
interface Form
{
    /** At most 20 letters. */
    public static function name(): string;

    /** Whether it leads to the attachments, which then lie beside it. */
    public static function usesFiles(): bool;

    /** Bytes that so many messages with so many files take in it, about: for the room that is asked for before. */
    public static function bytes(int $messages, int $files): int;

    /**
     * Writes it; told of each message, the progress says how far it is. The same chats give the same bytes.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function write(CopyContext $of, Progress $progress): void;
}
