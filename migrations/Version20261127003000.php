<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * How large the chats are, so that space and time can be computed; and what is set on the phones of a tray, as it was
 * and as it is, so that it can be switched back.
 */
final class Version20261127003000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE holding ADD COLUMN chat_bytes BIGINT DEFAULT NULL');
        $this->addSql(<<<'SQL'
            CREATE TABLE setting_seen (
                id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                phone_id INTEGER NOT NULL REFERENCES tray_phone (id),
                code VARCHAR(40) NOT NULL,
                app VARCHAR(40) NOT NULL,
                earlier INTEGER NOT NULL,
                now INTEGER NOT NULL,
                switched_at DATETIME DEFAULT NULL,
                UNIQUE (phone_id, code, app)
            )
            SQL);
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE setting_seen');
        $this->addSql('ALTER TABLE holding DROP COLUMN chat_bytes');
    }
}
