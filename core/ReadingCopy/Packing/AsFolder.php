<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy\Packing;

use Geschenk\Core\Progress;

/** As it is: opened by a click. */
final class AsFolder implements Packing
{
    public static function name(): string
    {
        return 'folder';
    }

    public function ending(): string
    {
        return '';
    }

    public function canLock(): bool
    {
        return false;
    }

    public function pack(
        string $folder,
        string $target,
        array $told,
        #[\SensitiveParameter] ?string $password,
        Progress $progress,
    ): string {
        return $folder;
    }
}
