<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Messenger\Otterpost\AndroidRebuild\RebuildSchema;
use Geschenk\Core\Sqlite\Database;

/**
 * Makes of a phone's data what OtterPlus, the unofficial rebuild, would have kept: hidden rooms, words of deleted
 * slips, sorts of its own.
 */
final class RebuildPouch
{
    public static function make(string $folder): void
    {
        $database = new Database(new \SQLite3($folder.'/pouch.db'));
        foreach (RebuildSchema::COLUMNS as $table => $columns) {
            foreach ($columns as $name => $type) {
                $database->execute("ALTER TABLE $table ADD COLUMN $name $type");
            }
        }
        $database->execute(implode(';', RebuildSchema::OWN_TABLES));
        $database->execute("BEGIN;
            INSERT INTO timed_slip (room_id, body, send_ms) SELECT room_id, 'Happy birthday, in case I forget!',
                1796000000000 FROM room WHERE sort = 1 LIMIT 3;
            INSERT INTO dress VALUES ('list', 'moss'), ('ledger', 'sand');
            UPDATE room SET hidden = 1 WHERE room_id IN (SELECT room_id FROM room WHERE sort = 1 ORDER BY room_id DESC
                LIMIT 2);
            UPDATE slip SET kept_body = 'I should not have said that.' WHERE sort = 80;
            UPDATE slip SET sort = 501 WHERE slip_id IN (SELECT slip_id FROM slip WHERE sort = 10 ORDER BY slip_id DESC
                LIMIT 4);
            UPDATE holt SET value = 'OtterPlus' WHERE name = 'edition';
            COMMIT; PRAGMA application_id = ".RebuildSchema::APPLICATION_ID);
        $database->close();
    }
}
