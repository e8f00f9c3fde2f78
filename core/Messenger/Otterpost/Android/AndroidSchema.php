<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

/**
 * Tables and codes of Otterpost's Android storage, generation 7; docs/formats/otterpost-android.md is tested against
 * this.
 */
final class AndroidSchema
{
    public const DATABASE = 'pouch.db';
    public const PARCELS = 'parcels';
    /** A folder for each local backup. */
    public const SPARES = 'spares';
    public const GENERATION = 7;
    /** Has a folder of its own; told apart here so that neither is taken for unknown. */
    public const OLD_GENERATION = 4;
    /** ASCII "OTPA": the ordinary edition. */
    public const APPLICATION_ID = 0x4F545041;
    /** ASCII "OTPC": the business edition. */
    public const COUNTER_APPLICATION_ID = 0x4F545043;
    public const HUSHED_FOR_GOOD = -1;

    public const FLAG_STARRED = 1;
    public const FLAG_FORWARDED = 2;
    public const KNOWN_FLAGS = self::FLAG_STARRED | self::FLAG_FORWARDED;

    public const TABLES = [
        'holt' => 'CREATE TABLE holt (name TEXT PRIMARY KEY, value TEXT)',
        'folk' => 'CREATE TABLE folk (folk_id INTEGER PRIMARY KEY, handle TEXT NOT NULL UNIQUE, book_name TEXT, '
            .'own_name TEXT, barred INTEGER NOT NULL DEFAULT 0, former_handle TEXT)',
        'folk_number' => 'CREATE TABLE folk_number (folk_id INTEGER NOT NULL, place INTEGER NOT NULL, '
            .'number TEXT NOT NULL)',
        'room' => 'CREATE TABLE room (room_id INTEGER PRIMARY KEY, sort INTEGER NOT NULL, '
            .'handle TEXT NOT NULL UNIQUE, title TEXT, about TEXT, founded_ms INTEGER, '
            .'shelved INTEGER NOT NULL DEFAULT 0, pin_place INTEGER, hush_until_ms INTEGER, '
            .'unread INTEGER NOT NULL DEFAULT 0, marked_unread INTEGER NOT NULL DEFAULT 0, fade_s INTEGER, '
            .'draft TEXT, picture BLOB, wallpaper TEXT, last_slip_id INTEGER, foreign_json TEXT)',
        'room_folk' => 'CREATE TABLE room_folk (room_id INTEGER NOT NULL, folk_id INTEGER NOT NULL, '
            .'rank INTEGER NOT NULL DEFAULT 0, since_ms INTEGER, until_ms INTEGER, PRIMARY KEY (room_id, folk_id))',
        'slip' => 'CREATE TABLE slip (slip_id INTEGER PRIMARY KEY, room_id INTEGER NOT NULL, wire_id TEXT, '
            .'folk_id INTEGER, mine INTEGER NOT NULL DEFAULT 0, sort INTEGER NOT NULL, body TEXT, '
            .'sent_ms INTEGER NOT NULL, landed_ms INTEGER, stage INTEGER NOT NULL, flags INTEGER NOT NULL DEFAULT 0, '
            .'answers_wire_id TEXT, edited_ms INTEGER, fades_ms INTEGER, once INTEGER, notice_sort INTEGER, '
            .'notice_folk_id INTEGER, notice_target_id INTEGER, notice_text TEXT, foreign_json TEXT)',
        'parcel' => 'CREATE TABLE parcel (parcel_id INTEGER PRIMARY KEY, slip_id INTEGER NOT NULL, '
            .'store_name TEXT NOT NULL, shown_name TEXT, media_type TEXT NOT NULL, octets INTEGER NOT NULL, '
            .'span_ms INTEGER, width INTEGER, height INTEGER, peek BLOB)',
        'nod' => 'CREATE TABLE nod (slip_id INTEGER NOT NULL, folk_id INTEGER, sign TEXT NOT NULL, given_ms INTEGER)',
        'mark' => 'CREATE TABLE mark (slip_id INTEGER NOT NULL, folk_id INTEGER NOT NULL, handed_ms INTEGER, '
            .'read_ms INTEGER, heard_ms INTEGER)',
        'mention' => 'CREATE TABLE mention (slip_id INTEGER NOT NULL, folk_id INTEGER NOT NULL, '
            .'from_byte INTEGER NOT NULL, bytes INTEGER NOT NULL)',
        'spot' => 'CREATE TABLE spot (slip_id INTEGER PRIMARY KEY, north REAL NOT NULL, east REAL NOT NULL, '
            .'name TEXT, address TEXT, live_until_ms INTEGER)',
        'card' => 'CREATE TABLE card (slip_id INTEGER NOT NULL, place INTEGER NOT NULL, name TEXT, '
            .'vcard TEXT NOT NULL)',
        'ballot' => 'CREATE TABLE ballot (slip_id INTEGER PRIMARY KEY, several INTEGER NOT NULL DEFAULT 0, '
            .'closed_ms INTEGER)',
        'ballot_answer' => 'CREATE TABLE ballot_answer (slip_id INTEGER NOT NULL, place INTEGER NOT NULL, '
            .'body TEXT NOT NULL)',
        'ballot_vote' => 'CREATE TABLE ballot_vote (slip_id INTEGER NOT NULL, place INTEGER NOT NULL, '
            .'folk_id INTEGER, given_ms INTEGER)',
        'ring' => 'CREATE TABLE ring (slip_id INTEGER PRIMARY KEY, film INTEGER NOT NULL DEFAULT 0, '
            .'outcome INTEGER NOT NULL, span_ms INTEGER)',
        'link' => 'CREATE TABLE link (slip_id INTEGER PRIMARY KEY, url TEXT NOT NULL, title TEXT, summary TEXT)',
        'offer' => 'CREATE TABLE offer (slip_id INTEGER PRIMARY KEY, article TEXT NOT NULL, name TEXT NOT NULL, '
            .'price_minor INTEGER, currency TEXT)',
        'withdrawn' => 'CREATE TABLE withdrawn (slip_id INTEGER PRIMARY KEY, folk_id INTEGER, withdrawn_ms INTEGER)',
    ];

    /** What only the business edition has. */
    public const COUNTER_TABLES = [
        'label' => 'CREATE TABLE label (label_id INTEGER PRIMARY KEY, name TEXT NOT NULL, tint INTEGER NOT NULL)',
        'room_label' => 'CREATE TABLE room_label (room_id INTEGER NOT NULL, label_id INTEGER NOT NULL, '
            .'place INTEGER NOT NULL)',
        'canned' => 'CREATE TABLE canned (canned_id INTEGER PRIMARY KEY, shortcut TEXT NOT NULL, body TEXT NOT NULL)',
    ];

    public const INDEXES = <<<'SQL'
        CREATE INDEX slip_in_room ON slip (room_id, slip_id);
        CREATE INDEX parcel_of_slip ON parcel (slip_id);
        CREATE INDEX nod_of_slip ON nod (slip_id);
        CREATE INDEX mark_of_slip ON mark (slip_id);
        CREATE INDEX mention_of_slip ON mention (slip_id);
        SQL;

    /** @return array<string, string> statements by table */
    public static function tables(bool $counter): array
    {
        return $counter ? [...self::TABLES, ...self::COUNTER_TABLES] : self::TABLES;
    }
}
