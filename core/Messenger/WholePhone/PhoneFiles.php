<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\WholePhone;

use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;

/**
 * The messengers' files of a computer's backup of a whole phone, as the process that reads has listed them: a database
 * of our own, of which each row was looked at.
 *
 * @phpstan-type MessengerOnPhone array{id: string, title: string, taken_ms: int, files: int, bytes: int}
 */
final readonly class PhoneFiles
{
    /** Each messenger once a date, each of its files, those that hold chats, and what is wrong with the list. */
    public const TABLES = [
        'messenger' => 'CREATE TABLE messenger (id TEXT PRIMARY KEY, title TEXT NOT NULL, '
            .'taken_ms INTEGER NOT NULL)',
        'file' => 'CREATE TABLE file (messenger TEXT NOT NULL, path TEXT NOT NULL, content TEXT NOT NULL, '
            .'bytes INTEGER NOT NULL, sha256 TEXT NOT NULL, key BLOB, PRIMARY KEY (messenger, path)) WITHOUT ROWID',
        'chat_file' => 'CREATE TABLE chat_file (place INTEGER PRIMARY KEY, messenger TEXT NOT NULL, '
            .'path TEXT NOT NULL)',
        'fault' => 'CREATE TABLE fault (messenger TEXT NOT NULL, code TEXT NOT NULL, subject TEXT NOT NULL, '
            .'count INTEGER NOT NULL)',
    ];

    public const FILE = 'files.sqlite';

    private Database $database;

    /** @param ScratchFolder $scratch that the list lies in, for as long as anybody asks it */
    public function __construct(public ScratchFolder $scratch)
    {
        $this->database = Database::openReadOnly($scratch->path.'/'.self::FILE);
    }

    /** @return list<MessengerOnPhone> the newest first */
    public function messengers(): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->text('id'), 'title' => $row->text('title'), 'taken_ms' => $row->int('taken_ms'),
            'files' => $row->int('files'), 'bytes' => $row->int('bytes'),
        ], $this->database->few(<<<'SQL'
            SELECT m.id, m.title, m.taken_ms, COUNT(f.path) AS files, COALESCE(SUM(f.bytes), 0) AS bytes
            FROM messenger m
            LEFT JOIN file f ON f.messenger = m.id
            GROUP BY m.id
            ORDER BY m.taken_ms DESC, m.title, m.id
            SQL));
    }

    /** @return list<string> paths in the messenger's data folder, in the order in which to pull */
    public function chatFiles(string $messenger): array
    {
        return array_map(static fn (Row $row): string => $row->text('path'), $this->database->few(
            'SELECT path FROM chat_file WHERE messenger = ? ORDER BY place', [$messenger],
        ));
    }

    /** @return array{content: string, sha256: string, key: ContentKey|null}|null null where it is not listed */
    public function file(string $messenger, string $path): ?array
    {
        $row = $this->database->one(
            'SELECT content, sha256, key FROM file WHERE messenger = ? AND path = ?', [$messenger, $path],
        );
        $key = $row?->nullableText('key');

        return null === $row ? null : [
            'content' => $row->text('content'), 'sha256' => $row->text('sha256'),
            'key' => null === $key ? null : new ContentKey(Cipher::SecretStream, $key),
        ];
    }

    /** @return list<array{code: string, subject: string, count: int}> what its list is short of */
    public function faults(string $messenger): array
    {
        return array_map(static fn (Row $row): array => [
            'code' => $row->text('code'), 'subject' => $row->text('subject'), 'count' => $row->int('count'),
        ], $this->database->few(
            'SELECT code, subject, count FROM fault WHERE messenger = ? ORDER BY code', [$messenger],
        ));
    }
}
