<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy\Packing;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Progress;

/** How a copy for reading is put together for the way home. One class each, found by being there. */
interface Packing
{
    /** At most 20 letters: its words are under "packing". */
    public static function name(): string;

    /** What its name on a stick ends with. */
    public function ending(): string;

    /** Whether it can be put under a password. */
    public function canLock(): bool;

    /**
     * @param string                $folder   with all that goes along
     * @param string                $target   full path of the file that is made, where it is one
     * @param array<string, string> $told     of whom and of what it is, by the labels of bag-info.txt
     * @param string|null           $password that opens it; null where it lies open
     *
     * @return string full path of what goes onto the stick: a file or a folder
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function pack(
        string $folder,
        string $target,
        array $told,
        #[\SensitiveParameter] ?string $password,
        Progress $progress,
    ): string;
}
