<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Messenger\FormatDatabase;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\DatabaseHeader;
use Geschenk\Core\Store\StoreWriter;

/**
 * Reads generation 7 of both editions. Everything it has no word for goes along as opaque and is listed as a finding.
 */
final class AndroidReader implements Reader
{
    /** @param bool $inBulk false makes an object of every slip, which is slow and gives the same */
    public function __construct(private readonly bool $inBulk = true)
    {
    }

    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $path = $folder.'/'.AndroidSchema::DATABASE;
        $counter = AndroidSchema::COUNTER_APPLICATION_ID === DatabaseHeader::of($path)?->applicationId;
        $pouch = FormatDatabase::open(
            $path, AndroidSchema::tables($counter), AndroidSchema::INDEXES, AndroidFormat::DETAIL_PREFIX, $store,
        );
        $pouch->readWith((new AndroidReading($pouch, $files, $store, $progress, $this->inBulk))->all(...));
    }
}
