<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Messenger\Otterpost\Pouch;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreWriter;

/** Reads generation 7. Everything it has no word for goes along as opaque and is listed as a finding. */
final class AndroidReader implements Reader
{
    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $pouch = Pouch::open($folder.'/'.Schema::DATABASE, Schema::TABLES, AndroidFormat::DETAIL_PREFIX, $store);
        $pouch->readWith((new AndroidReading($pouch, $files, $store, $progress))->all(...));
    }
}
