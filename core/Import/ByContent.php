<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Sqlite\Database;

/**
 * Finds the attachments of chats that came without the names that their messenger gives its files: whatever they are
 * called and wherever below the root they lie, by their content.
 */
final readonly class ByContent
{
    public function __construct(private Carried $carried, private CarriedFiles $files)
    {
    }

    /**
     * @param string $store path of the chat store
     *
     * @throws Hindrance
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function bring(string $store): void
    {
        $database = new Database(new \SQLite3($store));
        $database->execute(<<<'SQL'
            CREATE TEMP TABLE wanted AS
                SELECT path, MIN(bytes) AS bytes, MIN(sha256) AS sha256
                FROM attachment
                WHERE presence IN ('present', 'wrong_type') AND sha256 IS NOT NULL
                GROUP BY path
                HAVING COUNT(DISTINCT sha256) = 1;
            CREATE INDEX temp.wanted_bytes ON wanted (bytes);
            CREATE TEMP TABLE opened (path TEXT PRIMARY KEY);
            SQL);
        $root = $this->carried->root();
        foreach (Folder::files($root) as $source) {
            // Nobody has to name what does not lie there as text.
            $bytes = (int) @filesize($root.'/'.$source);
            // Whoever waits for it may stop it here.
            $this->carried->progress->advance(0);
            if (null !== $database->one('SELECT 1 AS here FROM wanted WHERE bytes = ? LIMIT 1', [$bytes])) {
                $this->bringOne($database, $source, $bytes);
            }
        }
        $this->bringEmptyOnes($database);
        // What lies open here has no use for the key that it was locked with elsewhere.
        $database->execute('DELETE FROM content_key WHERE path IN (SELECT path FROM opened)');
        $database->close();
    }

    private function bringOne(Database $database, string $source, int $bytes): void
    {
        $sha256 = $this->files->hashOf($source);
        $rows = null === $sha256 ? [] : $database->few(
            'SELECT path FROM wanted WHERE bytes = ? AND sha256 = ?', [$bytes, $sha256],
        );
        foreach ($rows as $row) {
            $path = $row->text('path');
            if ($this->files->bringFrom(new Lying($source), $path) === $sha256) {
                $database->run('INSERT OR IGNORE INTO opened (path) VALUES (?)', [$path]);
            }
        }
    }

    /** What is said to be there and empty has nothing that could be found. */
    private function bringEmptyOnes(Database $database): void
    {
        $last = '';
        while ([] !== ($rows = $database->few(<<<'SQL'
            SELECT DISTINCT path FROM attachment WHERE presence = 'empty' AND path > ? ORDER BY path LIMIT 500
            SQL, [$last]))) {
            foreach ($rows as $row) {
                $last = $row->text('path');
                $this->files->putEmpty($last);
                $database->run('INSERT OR IGNORE INTO opened (path) VALUES (?)', [$last]);
            }
        }
    }
}
