<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;

/**
 * What has been pulled so far, kept beside the half-made backup so that an interrupted run goes on from there. A row
 * says "pulled" only after the file and its folder were synced, and is believed only while the file is there as it
 * says.
 */
final class PullJournal
{
    private readonly Database $database;

    public function __construct(string $path)
    {
        $this->database = new Database(new \SQLite3($path));
        $this->database->execute(<<<'SQL'
            -- Nobody else looks at it, so it needs no file that is shared.
            PRAGMA locking_mode = EXCLUSIVE;
            PRAGMA journal_mode = WAL;
            PRAGMA synchronous = FULL;
            CREATE TABLE IF NOT EXISTS pulled_file (
                path TEXT PRIMARY KEY, bytes INTEGER NOT NULL, changed TEXT NOT NULL, sha256 TEXT, readable INTEGER
            ) WITHOUT ROWID;
            -- The one file that was begun: how much of it is on the disk, and what the phone listed then.
            CREATE TABLE IF NOT EXISTS begun_file (
                path TEXT PRIMARY KEY, there INTEGER NOT NULL, bytes INTEGER NOT NULL, changed TEXT NOT NULL
            ) WITHOUT ROWID
            SQL);
    }

    /** Notes how much of a file has come and is on the disk; the phone must list the same of it when it goes on. */
    public function begun(PhoneFile $listed, int $there): void
    {
        $this->database->execute('BEGIN; DELETE FROM begun_file');
        $this->database->run(
            'INSERT INTO begun_file (path, there, bytes, changed) VALUES (?, ?, ?, ?)',
            [$listed->path, $there, $listed->bytes, $listed->changed],
        );
        $this->database->execute('COMMIT');
    }

    /** Bytes that came of a file before, if the phone lists it as it did then. */
    public function cameOf(PhoneFile $listed): int
    {
        return $this->database->one(
            'SELECT there FROM begun_file WHERE path = ? AND bytes = ? AND changed = ?',
            [$listed->path, $listed->bytes, $listed->changed],
        )?->int('there') ?? 0;
    }

    public function nothingBegun(): void
    {
        $this->database->execute('DELETE FROM begun_file');
    }

    /** Notes what the phone lists now; a file that changed since it was pulled is to be pulled again. */
    public function listed(string $path, int $bytes, string $changed): void
    {
        $this->database->run(<<<'SQL'
            INSERT INTO pulled_file (path, bytes, changed) VALUES (?, ?, ?)
            ON CONFLICT (path) DO UPDATE SET
                sha256 = CASE WHEN bytes = excluded.bytes AND changed = excluded.changed THEN sha256 END,
                readable = NULL, bytes = excluded.bytes, changed = excluded.changed
            SQL, [$path, $bytes, $changed]);
    }

    public function begin(): void
    {
        $this->database->execute('BEGIN');
    }

    public function commit(): void
    {
        $this->database->execute('COMMIT');
    }

    public function pulled(string $path, int $bytes, string $sha256): void
    {
        $this->database->run(
            'UPDATE pulled_file SET sha256 = ?, bytes = ?, readable = NULL WHERE path = ?', [$sha256, $bytes, $path],
        );
    }

    /** @param int $readable bytes of it that the phone can read */
    public function unreadable(string $path, int $readable): void
    {
        $this->database->run('UPDATE pulled_file SET sha256 = NULL, readable = ? WHERE path = ?', [$readable, $path]);
    }

    public function forget(string $path): void
    {
        $this->database->run('DELETE FROM pulled_file WHERE path = ?', [$path]);
    }

    /**
     * Forgets that files were pulled which are not there as they were: power may have gone, or somebody was at them.
     */
    public function believeOnlyWhatIsIn(string $folder): void
    {
        $this->begin();
        $last = '';
        while ([] !== ($rows = $this->database->few(
            'SELECT path, bytes, sha256 FROM pulled_file WHERE sha256 IS NOT NULL AND path > ? ORDER BY path LIMIT 500',
            [$last],
        ))) {
            foreach ($rows as $row) {
                $last = $row->text('path');
                $full = $folder.'/'.$last;
                clearstatcache(true, $full);
                if (!is_file($full) || is_link($full) || filesize($full) !== $row->int('bytes')
                    || Disk::sha256($full) !== $row->text('sha256')) {
                    $this->database->run('UPDATE pulled_file SET sha256 = NULL WHERE path = ?', [$last]);
                }
            }
        }
        $this->commit();
    }

    public function hash(string $path): ?string
    {
        return $this->database->one('SELECT sha256 FROM pulled_file WHERE path = ?', [$path])?->nullableText('sha256');
    }

    public function isUnreadable(string $path): bool
    {
        return null !== $this->database->one(
            'SELECT readable FROM pulled_file WHERE path = ?', [$path],
        )?->nullableInt('readable');
    }

    /** @return list<array{path: string, bytes: int, readable: int}> files that the phone can't read to their end */
    public function allUnreadable(): array
    {
        return array_map(
            static fn (Row $row): array => [
                'path' => $row->text('path'), 'bytes' => $row->int('bytes'), 'readable' => $row->int('readable'),
            ],
            $this->database->few(
                'SELECT path, bytes, readable FROM pulled_file WHERE readable IS NOT NULL ORDER BY path',
            ),
        );
    }

    /** @return array{items: int, bytes: int, items_done: int, bytes_done: int} */
    public function totals(): array
    {
        $row = $this->database->one(<<<'SQL'
            SELECT COUNT(*) AS items, SUM(bytes) AS bytes, SUM(sha256 IS NOT NULL) AS items_done,
                SUM(CASE WHEN sha256 IS NOT NULL THEN bytes END)
                    + coalesce((SELECT SUM(there) FROM begun_file), 0) AS bytes_done
            FROM pulled_file
            SQL) ?? new Row([]);
        $n = static fn (string $column): int => $row->nullableInt($column) ?? 0;

        return [
            'items' => $n('items'), 'bytes' => $n('bytes'), 'items_done' => $n('items_done'),
            'bytes_done' => $n('bytes_done'),
        ];
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
            $this->database->few(
                'SELECT path, bytes FROM pulled_file WHERE sha256 IS NULL AND readable IS NULL ORDER BY path LIMIT ?',
                [$limit],
            ),
        );
    }

    public function close(): void
    {
        $this->database->close();
    }
}
