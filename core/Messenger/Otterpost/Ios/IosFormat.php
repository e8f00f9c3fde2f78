<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Messenger;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Messenger\Since2001;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\ForeignDatabase;
use Geschenk\Core\UnusableInput;

/** Otterpost on iOS: one database in Core-Data style, attachments in a folder a room, a copy a slip. */
final class IosFormat implements Format
{
    public const DETAIL_PREFIX = 'otterpost-ios:';

    public function messenger(): Messenger
    {
        return Otterpost::messenger();
    }

    public function platform(): Platform
    {
        return Platform::Ios;
    }

    public function detect(string $folder): bool
    {
        $path = $folder.'/'.IosSchema::DATABASE;
        if (!is_file($path)) {
            return false;
        }
        $foreign = ForeignDatabase::peek(
            $path, ['Z_METADATA' => IosSchema::TABLES['Z_METADATA'], 'ZSLIP' => IosSchema::TABLES['ZSLIP']],
        );
        try {
            $tables = $foreign->tables();
            if (!isset($tables['Z_METADATA'], $tables['ZSLIP'])) {
                return false;
            }
            $generation = $foreign->database->one('SELECT Z_VERSION FROM Z_METADATA')?->int('Z_VERSION') ?? 0;
        } catch (\Exception) {
            // So damaged that it can't say: the reader saves what it can, and says what it could not.
            return true;
        } finally {
            $foreign->close();
        }
        if (IosSchema::GENERATION !== $generation) {
            throw UnusableInput::unknownGeneration($path, Otterpost::NAME, $generation, (string) IosSchema::GENERATION);
        }

        return true;
    }

    public function chatFiles(): ChatFiles
    {
        return new ChatFiles(IosSchema::DATABASE, IosSchema::DATABASE.'-wal');
    }

    public function capabilities(): Capabilities
    {
        return new Capabilities(
            broadcastLists: false, heardTimes: false, wallpapers: false, sendEffects: true, motionParts: true,
            quotesOfGone: true,
            detailPrefix: self::DETAIL_PREFIX, messenger: Otterpost::messenger(),
            exactTimes: Since2001::EXACT_MS,
        );
    }

    public function reader(): IosReader
    {
        return new IosReader();
    }

    public function writer(): IosWriter
    {
        return new IosWriter();
    }
}
