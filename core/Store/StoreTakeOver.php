<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\DatabaseHeader;
use Geschenk\Core\Sqlite\ForeignDatabase;
use Geschenk\Core\Sqlite\Selection;
use Geschenk\Core\UnusableInput;

/**
 * Copies the rows of a chat store that was made elsewhere into one of our own making: no view, trigger or index comes
 * along.
 */
final class StoreTakeOver
{
    /** @throws UnusableInput when it is no chat store of a version known here, or damaged */
    public static function take(string $path, string $store, Progress $progress): void
    {
        if (!ChatStore::recognises($path)) {
            throw UnusableInput::notMessengerData($path);
        }
        $version = DatabaseHeader::of($path)->userVersion ?? 0;
        if (!in_array($version, StoreSchema::READ_VERSIONS, true)) {
            throw UnusableInput::unknownGeneration(
                $path, '@chat_store', $version, implode(', ', StoreSchema::READ_VERSIONS),
            );
        }
        $foreign = ForeignDatabase::open($path, StoreSchema::tables($version), StoreSchema::INDEXES);
        if (null !== $foreign->damage) {
            throw UnusableInput::damaged($path, 'some of its pages can’t be read');
        }
        $found = $foreign->tables();
        $progress->phase('reading');
        $database = Database::createAnew($store.'.part');
        $database->execute(
            'PRAGMA page_size = 8192;'.implode(';', StoreSchema::TABLES).sprintf(
                '; PRAGMA application_id = %d; PRAGMA user_version = %d;', StoreSchema::APPLICATION_ID,
                StoreSchema::VERSION,
            ),
        );
        $database->attachReadOnly($foreign->path, 'source');
        $database->execute('BEGIN');
        foreach (StoreSchema::tables($version) as $table => $statement) {
            $columns = Selection::columns($statement);
            if ([] !== array_diff($columns, $found[$table] ?? [])) {
                throw UnusableInput::damaged(
                    $path,
                    sprintf('table %s lacks %s', $table, implode(', ', array_diff($columns, $found[$table] ?? []))),
                );
            }
            $list = implode(', ', $columns);
            $foreign->guard(
                static fn () => $database->execute("INSERT INTO main.$table ($list) SELECT $list FROM source.$table"),
            );
        }
        $database->execute('COMMIT');
        $database->detach('source');
        $database->execute(StoreSchema::INDEXES);
        $database->close();
        $foreign->close();
        if (!rename($store.'.part', $store)) {
            throw new \RuntimeException(sprintf('The chat store at %s could not be put in place.', $store));
        }
    }
}
