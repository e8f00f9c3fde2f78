<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** The tables of a chat store; docs/formats/chat-store.md says what each column means and is tested against this. */
final class StoreSchema
{
    /** ASCII "GSCH", in the header field that SQLite keeps for it. */
    public const APPLICATION_ID = 0x47534348;
    public const VERSION = 3;
    /** Backups are kept for long. Version 2 has no content_key. */
    public const READ_VERSIONS = [2, 3];
    public const FILE_NAME = 'chats.sqlite';

    public const MARK_STARRED = 1;
    public const MARK_FORWARDED = 2;

    public const TABLES = [
        'about' => 'CREATE TABLE about (name TEXT PRIMARY KEY, value TEXT) WITHOUT ROWID',
        'person' => 'CREATE TABLE person (person_id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, number TEXT, '
            .'book_name TEXT, own_name TEXT, barred INTEGER NOT NULL, other_numbers TEXT, former_key TEXT)',
        'label' => 'CREATE TABLE label (place INTEGER PRIMARY KEY, name TEXT NOT NULL, tint INTEGER NOT NULL)',
        'canned_answer' => 'CREATE TABLE canned_answer (place INTEGER PRIMARY KEY, shortcut TEXT NOT NULL, '
            .'body TEXT NOT NULL)',
        'conversation' => 'CREATE TABLE conversation (conversation_id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, '
            .'kind TEXT NOT NULL, title TEXT, about TEXT, created_at INTEGER, archived INTEGER NOT NULL, '
            .'pin_place INTEGER, muted_until INTEGER, unread INTEGER NOT NULL, wallpaper TEXT, timer_seconds INTEGER, '
            .'draft TEXT, marked_unread INTEGER NOT NULL, picture BLOB, labels TEXT, hidden INTEGER NOT NULL, '
            .'opaque TEXT, first_message_id INTEGER NOT NULL, messages INTEGER NOT NULL DEFAULT 0, '
            .'lost INTEGER NOT NULL DEFAULT 0, fate TEXT NOT NULL, rules TEXT)',
        'member' => 'CREATE TABLE member (conversation_id INTEGER NOT NULL, person_key TEXT NOT NULL, '
            .'role TEXT NOT NULL, joined_at INTEGER, left_at INTEGER, PRIMARY KEY (conversation_id, '
            .'person_key)) WITHOUT ROWID',
        'message' => 'CREATE TABLE message (message_id INTEGER PRIMARY KEY, conversation_id INTEGER NOT NULL, '
            .'place INTEGER NOT NULL, identity TEXT NOT NULL, wire_id TEXT, sender_key TEXT, '
            .'from_owner INTEGER NOT NULL, kind TEXT NOT NULL, body TEXT, sent_at INTEGER NOT NULL, '
            .'received_at INTEGER, state TEXT NOT NULL, marks INTEGER NOT NULL, reply_to TEXT, reactions TEXT, '
            .'receipts TEXT, details TEXT, opaque TEXT, attachments TEXT, occurrence INTEGER NOT NULL DEFAULT 1, '
            ."fate TEXT NOT NULL DEFAULT 'whole', rules TEXT, origin INTEGER)",
        'attachment' => 'CREATE TABLE attachment (attachment_id INTEGER PRIMARY KEY, message_id INTEGER NOT NULL, '
            .'path TEXT NOT NULL, shown_name TEXT, media_type TEXT NOT NULL, bytes INTEGER NOT NULL, sha256 TEXT, '
            .'presence TEXT NOT NULL, duration_ms INTEGER, width INTEGER, height INTEGER, is_motion INTEGER NOT NULL, '
            .'preview BLOB)',
        'content_key' => 'CREATE TABLE content_key (path TEXT PRIMARY KEY, cipher TEXT NOT NULL, '
            .'key BLOB NOT NULL) WITHOUT ROWID',
        'finding' => 'CREATE TABLE finding (code TEXT NOT NULL, subject TEXT NOT NULL, count INTEGER NOT NULL, '
            .'example TEXT, PRIMARY KEY (code, subject)) WITHOUT ROWID',
    ];

    /** @return array<string, string> statements by table */
    public static function tables(int $version): array
    {
        return 2 === $version ? array_diff_key(self::TABLES, ['content_key' => '']) : self::TABLES;
    }

    /** Made after the rows are in, which is much faster than keeping them up with every row. */
    public const INDEXES = <<<'SQL'
        CREATE INDEX message_identity ON message (identity, conversation_id, occurrence);
        CREATE INDEX attachment_message ON attachment (message_id);
        SQL;
}
