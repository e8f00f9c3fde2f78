<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

/** Tables and codes of Otterpost's Android storage, generation 7; docs/formats/otterpost-android.md is tested against this. */
final class Schema
{
    public const DATABASE = 'pouch.db';
    public const PARCELS = 'parcels';
    public const GENERATION = 7;
    /** ASCII "OTPA" */
    public const APPLICATION_ID = 0x4F545041;
    public const HUSHED_FOR_GOOD = -1;

    public const FLAG_STARRED = 1;
    public const FLAG_FORWARDED = 2;
    public const KNOWN_FLAGS = self::FLAG_STARRED | self::FLAG_FORWARDED;

    public const TABLES = [
        'holt' => 'CREATE TABLE holt (name TEXT PRIMARY KEY, value TEXT)',
        'folk' => 'CREATE TABLE folk (folk_id INTEGER PRIMARY KEY, handle TEXT NOT NULL UNIQUE, book_name TEXT, own_name TEXT, barred INTEGER NOT NULL DEFAULT 0)',
        'room' => 'CREATE TABLE room (room_id INTEGER PRIMARY KEY, sort INTEGER NOT NULL, handle TEXT NOT NULL UNIQUE, title TEXT, about TEXT, founded_ms INTEGER, shelved INTEGER NOT NULL DEFAULT 0, pin_place INTEGER, hush_until_ms INTEGER, unread INTEGER NOT NULL DEFAULT 0, wallpaper TEXT, last_slip_id INTEGER, foreign_json TEXT)',
        'room_folk' => 'CREATE TABLE room_folk (room_id INTEGER NOT NULL, folk_id INTEGER NOT NULL, rank INTEGER NOT NULL DEFAULT 0, since_ms INTEGER, until_ms INTEGER, PRIMARY KEY (room_id, folk_id))',
        'slip' => 'CREATE TABLE slip (slip_id INTEGER PRIMARY KEY, room_id INTEGER NOT NULL, wire_id TEXT, folk_id INTEGER, mine INTEGER NOT NULL DEFAULT 0, sort INTEGER NOT NULL, body TEXT, sent_ms INTEGER NOT NULL, landed_ms INTEGER, stage INTEGER NOT NULL, flags INTEGER NOT NULL DEFAULT 0, answers_wire_id TEXT, notice_sort INTEGER, notice_folk_id INTEGER, notice_target_id INTEGER, notice_text TEXT, foreign_json TEXT)',
        'parcel' => 'CREATE TABLE parcel (parcel_id INTEGER PRIMARY KEY, slip_id INTEGER NOT NULL, store_name TEXT NOT NULL, shown_name TEXT, media_type TEXT NOT NULL, octets INTEGER NOT NULL, span_ms INTEGER, width INTEGER, height INTEGER, peek BLOB)',
        'nod' => 'CREATE TABLE nod (slip_id INTEGER NOT NULL, folk_id INTEGER, sign TEXT NOT NULL, given_ms INTEGER)',
        'mark' => 'CREATE TABLE mark (slip_id INTEGER NOT NULL, folk_id INTEGER NOT NULL, handed_ms INTEGER, read_ms INTEGER, heard_ms INTEGER)',
    ];

    public const INDEXES = <<<'SQL'
        CREATE INDEX slip_in_room ON slip (room_id, slip_id);
        CREATE INDEX parcel_of_slip ON parcel (slip_id);
        CREATE INDEX nod_of_slip ON nod (slip_id);
        CREATE INDEX mark_of_slip ON mark (slip_id);
        SQL;
}
