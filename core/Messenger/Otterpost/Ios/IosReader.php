<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoreWriter;

/** Reads generation 3. Everything it has no word for goes along as opaque and is listed as a finding. */
final class IosReader implements Reader
{
    /** @param bool $inBulk false makes an object of every slip, which is slow and gives the same */
    public function __construct(private readonly bool $inBulk = true)
    {
    }

    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $pouch = FormatDatabase::open(
            $folder.'/'.IosSchema::DATABASE, IosSchema::TABLES, IosSchema::INDEXES, IosFormat::DETAIL_PREFIX, $store,
        );
        $pouch->readWith((new IosReading($pouch, $files, $store, $progress, $this->inBulk))->all(...));
    }
}
