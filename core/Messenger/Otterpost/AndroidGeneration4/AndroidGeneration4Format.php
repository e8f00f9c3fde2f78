<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidGeneration4;

use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Messenger;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\DatabaseHeader;
use Geschenk\Core\UnusableInput;

/**
 * Otterpost on Android as it was: one wide table, attachments inline, people by their handles alone. It is only read.
 */
final class AndroidGeneration4Format implements Format
{
    public const DETAIL_PREFIX = 'otterpost-android-4:';

    public function messenger(): Messenger
    {
        return Otterpost::messenger();
    }

    public function platform(): Platform
    {
        return Platform::Android;
    }

    public function detect(string $folder): bool
    {
        $path = $folder.'/'.Generation4Schema::DATABASE;
        if (!is_file($path)) {
            return false;
        }
        $header = DatabaseHeader::of($path) ?? throw UnusableInput::notSqlite($path);

        return Generation4Schema::APPLICATION_ID === $header->applicationId
            && Generation4Schema::GENERATION === $header->userVersion;
    }

    public function chatFiles(): ChatFiles
    {
        return new ChatFiles(Generation4Schema::DATABASE, Generation4Schema::DATABASE.'-wal');
    }

    public function capabilities(): Capabilities
    {
        return new Capabilities(
            broadcastLists: true, heardTimes: false, wallpapers: true, sendEffects: false, motionParts: false,
            quotesOfGone: false,
            detailPrefix: self::DETAIL_PREFIX, messenger: Otterpost::messenger(),
        );
    }

    public function reader(): AndroidGeneration4Reader
    {
        return new AndroidGeneration4Reader();
    }

    public function writer(): ?Writer
    {
        return null;
    }
}
