<?php

declare(strict_types=1);

namespace Geschenk\App;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;

/** Whose data folder it is. A shop's is never made anew; a demonstration's is, when somebody asks for it. */
enum DataKind: string
{
    case Shop = 'shop';
    case Demonstration = 'demonstration';

    private const FILE = 'kind';

    /** @return self|null null of a folder in which nothing has been kept yet */
    public static function of(string $folder): ?self
    {
        $told = @file_get_contents($folder.'/'.self::FILE);
        if (false !== $told) {
            // What it says and nobody understands is a shop's, for nothing is taken from a shop.
            return self::tryFrom(trim($told)) ?? self::Shop;
        }
        // Made by a version that did not say so: only a demonstration had stand-in phones.
        if (is_dir($folder.'/standin')) {
            return self::Demonstration;
        }

        return self::holdsWork($folder) || is_file($folder.'/shop.sqlite') ? self::Shop : null;
    }

    public function write(string $folder): void
    {
        Disk::put(Folder::make($folder).'/'.self::FILE, $this->value."\n");
        Disk::sync($folder);
    }

    /** Whether there are trays or backups, whatever the records say. */
    public static function holdsWork(string $folder): bool
    {
        foreach (['trays', 'backups'] as $name) {
            if ([] !== (glob($folder.'/'.$name.'/*') ?: [])) {
                return true;
            }
        }

        return false;
    }
}
