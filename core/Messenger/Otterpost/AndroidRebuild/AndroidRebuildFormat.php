<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidRebuild;

use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Messenger;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema as Official;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\DatabaseHeader;
use Geschenk\Core\UnusableInput;

/** OtterPlus, an unofficial rebuild of Otterpost on Android. It is only read: its chats move into the official app. */
final class AndroidRebuildFormat implements Format
{
    public const DETAIL_PREFIX = 'otterplus-android:';

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
        $path = $folder.'/'.Official::DATABASE;
        if (!is_file($path)) {
            return false;
        }
        $header = DatabaseHeader::of($path) ?? throw UnusableInput::notSqlite($path);
        if (RebuildSchema::APPLICATION_ID !== $header->applicationId) {
            return false;
        }
        if (Official::GENERATION !== $header->userVersion) {
            throw UnusableInput::unknownGeneration(
                $path, 'OtterPlus', $header->userVersion, (string) Official::GENERATION,
            );
        }

        return true;
    }

    public function chatFiles(): ChatFiles
    {
        return new ChatFiles(Official::DATABASE, Official::DATABASE.'-wal');
    }

    public function capabilities(): Capabilities
    {
        return new Capabilities(
            broadcastLists: true, heardTimes: true, wallpapers: true, sendEffects: false, motionParts: false,
            quotesOfGone: false,
            detailPrefix: self::DETAIL_PREFIX, messenger: Otterpost::messenger(),
        );
    }

    public function reader(): AndroidRebuildReader
    {
        return new AndroidRebuildReader();
    }

    public function writer(): ?Writer
    {
        return null;
    }
}
