<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;

/** What has been pulled so far, kept beside the half-made backup so that an interrupted run goes on from there. */
final class PullJournal
{
    private readonly Database $database;

    public function __construct(string $path)
    {
        $this->database = new Database(new \SQLite3($path));
        $this->database->execute('PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL; CREATE TABLE IF NOT EXISTS file (path TEXT PRIMARY KEY, bytes INTEGER NOT NULL, changed TEXT NOT NULL, sha256 TEXT) WITHOUT ROWID');
    }

    /** Notes what the phone lists now; a file that changed since it was pulled is to be pulled again. */
    public function listed(string $path, int $bytes, string $changed): void
    {
        $this->database->run('INSERT INTO file VALUES (?, ?, ?, NULL) ON CONFLICT (path) DO UPDATE SET sha256 = CASE WHEN bytes = excluded.bytes AND changed = excluded.changed THEN sha256 END, bytes = excluded.bytes, changed = excluded.changed', [$path, $bytes, $changed]);
    }

    public function begin(): void
    {
        $this->database->execute('BEGIN');
    }

    public function commit(): void
    {
        $this->database->execute('COMMIT');
    }

    public function pulled(string $path, string $sha256): void
    {
        $this->database->run('UPDATE file SET sha256 = ? WHERE path = ?', [$sha256, $path]);
    }

    public function forget(string $path): void
    {
        $this->database->run('DELETE FROM file WHERE path = ?', [$path]);
    }

    public function hash(string $path): ?string
    {
        return $this->database->one('SELECT sha256 FROM file WHERE path = ?', [$path])?->nullableText('sha256');
    }

    /** @return array{items: int, bytes: int, items_done: int, bytes_done: int} */
    public function totals(): array
    {
        $row = $this->database->one('SELECT COUNT(*) AS items, SUM(bytes) AS bytes, SUM(sha256 IS NOT NULL) AS items_done, SUM(CASE WHEN sha256 IS NOT NULL THEN bytes END) AS bytes_done FROM file') ?? new Row([]);
        $n = static fn (string $column): int => $row->nullableInt($column) ?? 0;

        return ['items' => $n('items'), 'bytes' => $n('bytes'), 'items_done' => $n('items_done'), 'bytes_done' => $n('bytes_done')];
    }

    /**
     * The next files to pull, in portions, so that rows can be written while one walks them.
     *
     * @return list<array{path: string, bytes: int}>
     */
    public function waiting(int $limit = 100): array
    {
        return array_map(
            static fn (Row $row): array => ['path' => $row->text('path'), 'bytes' => $row->int('bytes')],
            $this->database->few('SELECT path, bytes FROM file WHERE sha256 IS NULL ORDER BY path LIMIT ?', [$limit]),
        );
    }

    public function close(): void
    {
        $this->database->close();
    }
}
