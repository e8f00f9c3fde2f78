<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\UnusableInput;

/** Otterpost on Android: a relational database in a write-ahead log, attachments in a folder a kind. */
final class AndroidFormat implements Format
{
    public const DETAIL_PREFIX = 'otterpost-android:';

    public function messenger(): string
    {
        return 'Otterpost';
    }

    public function platform(): string
    {
        return 'android';
    }

    public function detect(string $folder): bool
    {
        $path = $folder.'/'.Schema::DATABASE;
        if (!is_file($path)) {
            return false;
        }
        $header = (string) @file_get_contents($path, false, null, 0, 100);
        if (!str_starts_with($header, "SQLite format 3\0")) {
            throw UnusableInput::notSqlite($path);
        }
        // application_id and user_version, https://www.sqlite.org/fileformat.html#the_database_header
        if (substr($header, 68, 4) !== pack('N', Schema::APPLICATION_ID)) {
            return false;
        }
        $generation = unpack('N', substr($header, 60, 4))[1] ?? 0;
        if (Schema::GENERATION !== $generation) {
            throw UnusableInput::unknownGeneration($path, $this->messenger(), is_int($generation) ? $generation : 0, 'generation '.Schema::GENERATION);
        }

        return true;
    }

    public function databaseFiles(): array
    {
        return [Schema::DATABASE, Schema::DATABASE.'-wal'];
    }

    public function capabilities(): Capabilities
    {
        return new Capabilities(broadcastLists: true, heardTimes: true, wallpapers: true, detailPrefix: self::DETAIL_PREFIX);
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
