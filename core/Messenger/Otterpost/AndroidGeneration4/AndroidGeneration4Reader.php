<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidGeneration4;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreWriter;

/** Reads generation 4. Everything it has no word for goes along as opaque and is listed as a finding. */
final class AndroidGeneration4Reader implements Reader
{
    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $pouch = FormatDatabase::open(
            $folder.'/'.Generation4Schema::DATABASE, Generation4Schema::TABLES, Generation4Schema::INDEXES,
            AndroidGeneration4Format::DETAIL_PREFIX,
            $store,
        );
        $pouch->readWith((new AndroidGeneration4Reading($pouch, $files, $store, $progress))->all(...));
    }
}
