<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** The tables of a chat store; docs/formats/chat-store.md says what each column means and is tested against this. */
final class Schema
{
    /** ASCII "GSCH", in the header field that SQLite keeps for it. */
    public const APPLICATION_ID = 0x47534348;
    public const VERSION = 1;
    public const FILE_NAME = 'chats.sqlite';

    public const TABLES = [
        'about' => 'CREATE TABLE about (name TEXT PRIMARY KEY, value TEXT) WITHOUT ROWID',
        'person' => 'CREATE TABLE person (person_id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, number TEXT, book_name TEXT, own_name TEXT, barred INTEGER NOT NULL)',
        'conversation' => 'CREATE TABLE conversation (conversation_id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, kind TEXT NOT NULL, title TEXT, about TEXT, created_at INTEGER, archived INTEGER NOT NULL, pin_place INTEGER, muted_until INTEGER, unread INTEGER NOT NULL, wallpaper TEXT, opaque TEXT, fate TEXT NOT NULL, rules TEXT)',
        'member' => 'CREATE TABLE member (conversation_id INTEGER NOT NULL, person_key TEXT NOT NULL, role TEXT NOT NULL, joined_at INTEGER, left_at INTEGER, PRIMARY KEY (conversation_id, person_key)) WITHOUT ROWID',
        'message' => 'CREATE TABLE message (message_id INTEGER PRIMARY KEY, conversation_id INTEGER NOT NULL, place INTEGER NOT NULL, identity TEXT NOT NULL, occurrence INTEGER NOT NULL, digest BLOB NOT NULL, wire_id TEXT, sender_key TEXT, from_owner INTEGER NOT NULL, kind TEXT NOT NULL, body TEXT, sent_at INTEGER NOT NULL, received_at INTEGER, state TEXT NOT NULL, starred INTEGER NOT NULL, forwarded INTEGER NOT NULL, reply_to TEXT, notice TEXT, opaque TEXT, fate TEXT NOT NULL, rules TEXT)',
        'attachment' => 'CREATE TABLE attachment (attachment_id INTEGER PRIMARY KEY, message_id INTEGER NOT NULL, path TEXT NOT NULL, shown_name TEXT, media_type TEXT NOT NULL, bytes INTEGER NOT NULL, sha256 TEXT, presence TEXT NOT NULL, duration_ms INTEGER, width INTEGER, height INTEGER, preview BLOB)',
        'reaction' => 'CREATE TABLE reaction (message_id INTEGER NOT NULL, person_key TEXT, sign TEXT NOT NULL, given_at INTEGER)',
        'receipt' => 'CREATE TABLE receipt (message_id INTEGER NOT NULL, person_key TEXT NOT NULL, delivered_at INTEGER, read_at INTEGER, heard_at INTEGER)',
        'finding' => 'CREATE TABLE finding (code TEXT NOT NULL, subject TEXT NOT NULL, count INTEGER NOT NULL, example TEXT, PRIMARY KEY (code, subject)) WITHOUT ROWID',
    ];

    /** Made after the rows are in, which is much faster than keeping them up with every row. */
    public const INDEXES = <<<'SQL'
        CREATE UNIQUE INDEX message_place ON message (conversation_id, place);
        CREATE UNIQUE INDEX message_identity ON message (conversation_id, identity, occurrence);
        CREATE INDEX attachment_message ON attachment (message_id);
        CREATE INDEX reaction_message ON reaction (message_id);
        CREATE INDEX receipt_message ON receipt (message_id);
        SQL;
}
