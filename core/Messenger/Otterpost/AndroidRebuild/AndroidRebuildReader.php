<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidRebuild;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema as Official;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreWriter;

final class AndroidRebuildReader implements Reader
{
    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $pouch = FormatDatabase::open(
            $folder.'/'.Official::DATABASE, RebuildSchema::tables(), Official::INDEXES,
            AndroidRebuildFormat::DETAIL_PREFIX,
            $store,
        );
        $pouch->readWith((new AndroidRebuildReading($pouch, $files, $store, $progress))->all(...));
    }
}
