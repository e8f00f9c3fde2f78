<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

/** Tables of an arrival result: one SQLite file a check, so that a million messages need no memory to be looked at. */
final class ResultSchema
{
    public const TABLES = <<<'SQL'
        CREATE TABLE conversation (
            conversation_id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, title TEXT, kind TEXT NOT NULL,
            verdict TEXT NOT NULL DEFAULT '',
            arrived INTEGER NOT NULL DEFAULT 0, changed INTEGER NOT NULL DEFAULT 0,
            left_out INTEGER NOT NULL DEFAULT 0, missing INTEGER NOT NULL DEFAULT 0,
            extra INTEGER NOT NULL DEFAULT 0, added INTEGER NOT NULL DEFAULT 0,
            added_missing INTEGER NOT NULL DEFAULT 0, kept INTEGER NOT NULL DEFAULT 0,
            kept_missing INTEGER NOT NULL DEFAULT 0, messages_expected INTEGER NOT NULL DEFAULT 0,
            messages_found INTEGER NOT NULL DEFAULT 0, attachments_expected INTEGER NOT NULL DEFAULT 0,
            attachments_found INTEGER NOT NULL DEFAULT 0, people_expected INTEGER NOT NULL DEFAULT 0,
            people_found INTEGER NOT NULL DEFAULT 0,
            first_expected INTEGER, first_found INTEGER, last_expected INTEGER, last_found INTEGER,
            settings TEXT NOT NULL DEFAULT '', rules TEXT NOT NULL DEFAULT ''
        );
        CREATE TABLE month (conversation_id INTEGER NOT NULL, month TEXT NOT NULL, expected INTEGER NOT NULL,
            there INTEGER NOT NULL, PRIMARY KEY (conversation_id, month)) WITHOUT ROWID;
        CREATE TABLE finding (
            finding_id INTEGER PRIMARY KEY, conversation_id INTEGER NOT NULL, account TEXT NOT NULL,
                reason TEXT NOT NULL, place INTEGER,
            expected_id INTEGER, found_id INTEGER, kind TEXT NOT NULL, sent_at INTEGER NOT NULL, sender_key TEXT,
                from_owner INTEGER NOT NULL, aspects TEXT NOT NULL
        );
        CREATE TABLE account (what TEXT PRIMARY KEY, expected INTEGER NOT NULL, found INTEGER NOT NULL,
            differing INTEGER NOT NULL) WITHOUT ROWID;
        CREATE TABLE account_difference (what TEXT NOT NULL, subject, how TEXT NOT NULL, called TEXT);
        CREATE INDEX finding_conversation ON finding (conversation_id, finding_id);
        SQL;
}
