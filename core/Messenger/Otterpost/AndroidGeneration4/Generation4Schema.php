<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\AndroidGeneration4;

use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Kind;

/**
 * Tables and codes of Otterpost's Android storage, generation 4; docs/formats/otterpost-android-4.md is tested against
 * this.
 */
final class Generation4Schema
{
    public const DATABASE = 'pouch.db';
    public const PARCELS = 'parcels';
    public const GENERATION = 4;
    /** ASCII "OTPA" */
    public const APPLICATION_ID = 0x4F545041;

    public const TABLES = [
        'holt' => 'CREATE TABLE holt (name TEXT PRIMARY KEY, value TEXT)',
        'room' => 'CREATE TABLE room (handle TEXT PRIMARY KEY, sort INTEGER NOT NULL, title TEXT, about TEXT, '
            .'founded_s INTEGER, shelved INTEGER NOT NULL DEFAULT 0, pin_place INTEGER, hush_until_s INTEGER, '
            .'unread INTEGER NOT NULL DEFAULT 0, draft TEXT, wallpaper TEXT)',
        'room_folk' => 'CREATE TABLE room_folk (room_handle TEXT NOT NULL, folk_handle TEXT NOT NULL, '
            .'rank INTEGER NOT NULL DEFAULT 0, since_s INTEGER)',
        'slip' => 'CREATE TABLE slip (slip_id INTEGER PRIMARY KEY, room_handle TEXT NOT NULL, wire_id TEXT, '
            .'folk_handle TEXT, mine INTEGER NOT NULL DEFAULT 0, sort INTEGER NOT NULL, body TEXT, '
            .'sent_ms INTEGER NOT NULL, landed_s INTEGER, stage INTEGER NOT NULL, flags INTEGER NOT NULL DEFAULT 0, '
            .'answers_wire_id TEXT, notice_sort INTEGER, notice_folk TEXT, notice_target TEXT, notice_text TEXT, '
            .'parcel_name TEXT, parcel_shown TEXT, parcel_type TEXT, parcel_octets INTEGER, parcel_span_s INTEGER, '
            .'parcel_width INTEGER, parcel_height INTEGER, parcel_peek BLOB, north REAL, east REAL, spot_name TEXT, '
            .'card TEXT, ring_outcome INTEGER, ring_span_s INTEGER, handed_s INTEGER, read_s INTEGER)',
    ];

    public const INDEXES = <<<'SQL'
        CREATE INDEX slip_in_room ON slip (room_handle, slip_id);
        SQL;

    /** Room sorts, ranks, stages, flags and notice sorts up to 7 are those of generation 7. */
    public const SLIP_SORTS = [
        0 => Kind::Text, 1 => Kind::Photo, 2 => Kind::Voice, 3 => Kind::Document, 4 => Kind::Video, 5 => Kind::Place,
        6 => Kind::ContactCard, 7 => Kind::Call, 9 => Kind::Notice, 12 => Kind::Deleted,
    ];
    public const RING_OUTCOMES = [1 => CallOutcome::Answered, 2 => CallOutcome::Missed];
}
