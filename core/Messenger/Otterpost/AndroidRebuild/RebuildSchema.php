<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidRebuild;

use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema as Official;

/** What OtterPlus has on top of the official generation 7; docs/formats/otterplus-android.md is tested against this. */
final class RebuildSchema
{
    /** ASCII "OTPX" */
    public const APPLICATION_ID = 0x4F545058;
    /** Columns beside the official ones, by table. */
    public const COLUMNS = ['room' => ['hidden' => 'INTEGER'], 'slip' => ['kept_body' => 'TEXT']];
    /** Slips that wait for a time to be sent, and how the app is dressed. They stay behind and are listed. */
    public const OWN_TABLES = [
        'timed_slip' => 'CREATE TABLE timed_slip (timed_id INTEGER PRIMARY KEY, room_id INTEGER NOT NULL, body TEXT, '
            .'send_ms INTEGER NOT NULL)',
        'dress' => 'CREATE TABLE dress (part TEXT PRIMARY KEY, colour TEXT)',
    ];

    /** @return array<string, string> statements that make the tables that are read, by name */
    public static function tables(): array
    {
        $tables = Official::TABLES;
        foreach (self::COLUMNS as $table => $columns) {
            foreach ($columns as $name => $type) {
                $tables[$table] = substr($tables[$table], 0, -1).", $name $type)";
            }
        }

        return $tables;
    }
}
