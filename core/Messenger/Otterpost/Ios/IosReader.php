<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Files\AttachmentFiles;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Progress;
use Geschenk\Core\Sqlite\ForeignDatabase;
use Geschenk\Core\Store\StoreWriter;

/** Reads generation 3. Everything it has no word for goes along as opaque and is listed as a finding. */
final class IosReader implements Reader
{
    public function read(string $folder, AttachmentFiles $files, StoreWriter $store, Progress $progress): void
    {
        $path = $folder.'/'.Schema::DATABASE;
        $foreign = ForeignDatabase::open($path);
        $tables = $foreign->tables();
        foreach (Schema::TABLES as $table => $_) {
            $missing = array_diff(Schema::columns($table), $tables[$table] ?? []);
            if ([] !== $missing) {
                throw UnusableInput::damaged($path, sprintf('table %s lacks %s', $table, implode(', ', $missing)));
            }
        }
        foreach (array_diff(array_keys($tables), array_keys(Schema::TABLES)) as $table) {
            $store->finding('unknown_table', (string) $table);
        }
        $foreign->guard(fn () => (new IosReading($foreign->database, $tables, $files, $store, $progress))->all());
        $foreign->close();
    }
}
