<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\WholePhone;

/** The index of a computer's backup of a whole phone. docs/formats/phone-backup.md */
final class IndexSchema
{
    public const TABLES = [
        'backup' => 'CREATE TABLE backup (id TEXT NOT NULL)',
        'taken' => 'CREATE TABLE taken (taken_id INTEGER PRIMARY KEY, begun_ms INTEGER NOT NULL, ended_ms INTEGER)',
        'app' => 'CREATE TABLE app (app_id INTEGER PRIMARY KEY, taken_id INTEGER NOT NULL, name TEXT NOT NULL, '
            .'title TEXT, version TEXT)',
        'file' => 'CREATE TABLE file (file_id INTEGER PRIMARY KEY, app_id INTEGER NOT NULL, path TEXT NOT NULL, '
            .'changed_ms INTEGER, content TEXT NOT NULL, bytes INTEGER NOT NULL, sha256 TEXT NOT NULL, key BLOB)',
    ];
}
