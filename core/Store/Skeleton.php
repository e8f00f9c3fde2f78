<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Sqlite\Database;

/**
 * What is left of a chat store when nobody has to read it any more: who, when, what kind, how large and what became of
 * it, and nothing that was said or sent. A check and a sheet stand on that.
 */
final class Skeleton
{
    private const MARK = 'without_words';

    /** Takes the words out of a store: wholly or not at all. Done again it does nothing. */
    public static function make(string $path): void
    {
        $store = Database::openReadOnly($path);
        $isDone = null !== $store->one("SELECT 1 AS here FROM about WHERE name = '".self::MARK."'");
        $version = $store->one('PRAGMA user_version')?->int('user_version') ?? 0;
        $hasKeys = isset(StoreSchema::tables($version)['content_key']);
        $store->close();
        if ($isDone) {
            return;
        }
        $part = $path.'.part';
        if (!Disk::quietly(static fn (): bool => copy($path, $part))) {
            throw DiskFailure::at('write', $part);
        }
        $database = Database::create($part);
        $database->execute(<<<'SQL'
            BEGIN;
            UPDATE message SET identity = message_id, wire_id = NULL, body = NULL, reply_to = NULL, reactions = NULL,
                receipts = NULL, details = NULL, opaque = NULL;
            UPDATE attachment SET path = attachment_id, shown_name = NULL, preview = NULL, sha256 = NULL;
            UPDATE conversation SET about = NULL, draft = NULL, picture = NULL, opaque = NULL, wallpaper = NULL;
            UPDATE finding SET example = NULL;
            DELETE FROM canned_answer;
            SQL);
        $database->execute($hasKeys ? 'DELETE FROM content_key' : '');
        $database->run('INSERT INTO about VALUES (?, ?)', [self::MARK, '1']);
        // Written anew, so that nothing of it is left in free pages.
        $database->execute('COMMIT; VACUUM');
        $database->close();
        Disk::sync($part);
        Disk::move($part, $path);
    }
}
