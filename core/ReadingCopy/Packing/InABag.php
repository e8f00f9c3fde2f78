<?php

declare(strict_types=1);

namespace Geschenk\Core\ReadingCopy\Packing;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Progress;

/** A bag (BagIt 1.0, RFC 8493), for archives. */
final class InABag implements Packing
{
    public static function name(): string
    {
        return 'bag';
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
        $payload = $target.'/'.Bag::PAYLOAD;
        // Of one that was killed here, or lost its power, nothing is believed.
        Folder::discard($target);
        Folder::make($target);
        Disk::move($folder, $payload);
        $progress->phase('packing');
        Bag::pack($target, $told, static fn (): null => null, static fn (int $bytes) => $progress->advance(1, $bytes));

        return $target;
    }
}
