<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\LocalBackups;
use Geschenk\Core\Messenger\Messenger;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\DatabaseHeader;
use Geschenk\Core\UnusableInput;

/** Otterpost on Android: a relational database in a write-ahead log, attachments in a folder a kind. */
final class AndroidFormat implements Format, LocalBackups
{
    public const DETAIL_PREFIX = 'otterpost-android:';

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
        $path = $folder.'/'.AndroidSchema::DATABASE;
        if (!is_file($path)) {
            return false;
        }
        $header = DatabaseHeader::of($path) ?? throw UnusableInput::notSqlite($path);
        $ours = [AndroidSchema::APPLICATION_ID, AndroidSchema::COUNTER_APPLICATION_ID];
        if (!in_array($header->applicationId, $ours, true)) {
            return false;
        }

        if (!in_array($header->userVersion, [AndroidSchema::GENERATION, AndroidSchema::OLD_GENERATION], true)) {
            throw UnusableInput::unknownGeneration(
                $path, Otterpost::NAME, $header->userVersion,
                sprintf('%d, %d', AndroidSchema::OLD_GENERATION, AndroidSchema::GENERATION),
            );
        }

        return AndroidSchema::GENERATION === $header->userVersion;
    }

    public function localBackupPlaces(): array
    {
        return [
            SealedBackup::FILE, AndroidSchema::SPARES.'/*/'.SealedBackup::FILE,
            AndroidSchema::SPARES.'/*/'.OpenBackup::FILE,
        ];
    }

    public function localBackupFolder(): string
    {
        return AndroidSchema::SPARES;
    }

    public function isLocalBackup(string $path): bool
    {
        return SealedBackup::recognises($path) || OpenBackup::recognises($path);
    }

    public function lockOf(string $head): ?BackupLock
    {
        return OpenBackup::isHead($head) ? BackupLock::Open : SealedBackup::lockOf($head);
    }

    public function isVideo(string $path): bool
    {
        return str_starts_with($path, AndroidSchema::PARCELS.'/'.AndroidWriter::FOLDERS[Kind::Video->value].'/');
    }

    public function openLocalBackup(string $path, ?BackupKey $key, string $folder, ?string $name = null): void
    {
        $name ??= $path;
        if (OpenBackup::recognises($path)) {
            OpenBackup::unpack($path, $folder.'/'.AndroidSchema::DATABASE, $name);

            return;
        }
        $key ??= throw UnusableInput::sealedNeedsKey($name);
        SealedBackup::open($path, $key, $folder.'/'.AndroidSchema::DATABASE, $name);
    }

    public function chatFiles(): ChatFiles
    {
        return new ChatFiles(AndroidSchema::DATABASE, AndroidSchema::DATABASE.'-wal');
    }

    public function capabilities(): Capabilities
    {
        return new Capabilities(
            broadcastLists: true, heardTimes: true, wallpapers: true, sendEffects: false, motionParts: false,
            quotesOfGone: false,
            detailPrefix: self::DETAIL_PREFIX, messenger: Otterpost::messenger(),
        );
    }

    public function reader(): AndroidReader
    {
        return new AndroidReader();
    }

    public function writer(): AndroidWriter
    {
        return new AndroidWriter();
    }
}
