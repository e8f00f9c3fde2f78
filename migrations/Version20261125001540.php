<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** The shop's records: trays with their phones and run sheets, backups, runs, users, log, and the worker's queue. */
final class Version20261125001540 extends AbstractMigration
{
    public function getDescription(): string
    {
        return 'The first tables.';
    }

    public function up(Schema $schema): void
    {
        $this->addSql(
            'CREATE TABLE backup (id VARCHAR(36) NOT NULL, serial VARCHAR(40) NOT NULL, taken_at DATETIME NOT NULL, '
                .'account VARCHAR(20) NOT NULL, conversations INTEGER NOT NULL, messages INTEGER NOT NULL, '
                .'attachments INTEGER NOT NULL, attachments_absent INTEGER NOT NULL, '
                .'attachment_bytes INTEGER NOT NULL, newest_at BIGINT DEFAULT NULL, tray_id INTEGER NOT NULL, '
                .'PRIMARY KEY (id), CONSTRAINT FK_3FF0D1ACE8C42A45 FOREIGN KEY (tray_id) REFERENCES tray (id) NOT '
                .'DEFERRABLE INITIALLY IMMEDIATE)',
        );
        $this->addSql('CREATE INDEX IDX_3FF0D1ACE8C42A45 ON backup (tray_id)');
        $this->addSql(
            'CREATE TABLE log_entry (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, at DATETIME NOT NULL, '
                .'done_by VARCHAR(60) NOT NULL, act VARCHAR(40) NOT NULL, tray_number INTEGER DEFAULT NULL, '
                .'detail VARCHAR(500) NOT NULL)',
        );
        $this->addSql(
            'CREATE TABLE run (state VARCHAR(20) NOT NULL, finished_at DATETIME DEFAULT NULL, '
                .'trouble VARCHAR(1000) DEFAULT NULL, checkpoint VARCHAR(40) DEFAULT NULL, '
                .'phase VARCHAR(40) NOT NULL, items_done INTEGER NOT NULL, items_total INTEGER NOT NULL, '
                .'bytes_done BIGINT NOT NULL, bytes_total BIGINT NOT NULL, '
                .'phase_started_at DOUBLE PRECISION NOT NULL, bytes_before BIGINT NOT NULL, '
                .'items_before INTEGER NOT NULL, moved_at DOUBLE PRECISION NOT NULL, id VARCHAR(36) NOT NULL, '
                .'kind VARCHAR(20) NOT NULL, asked_at DATETIME NOT NULL, asked_by VARCHAR(60) NOT NULL, '
                .'confirmed_tag VARCHAR(20) DEFAULT NULL, tray_id INTEGER NOT NULL, PRIMARY KEY (id), '
                .'CONSTRAINT FK_5076A4C0E8C42A45 FOREIGN KEY (tray_id) REFERENCES tray (id) NOT DEFERRABLE INITIALLY '
                .'IMMEDIATE)',
        );
        $this->addSql('CREATE INDEX IDX_5076A4C0E8C42A45 ON run (tray_id)');
        $this->addSql(
            'CREATE TABLE shop_user (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, password VARCHAR(255) NOT NULL, '
                .'username VARCHAR(60) NOT NULL, display_name VARCHAR(120) NOT NULL, role VARCHAR(20) NOT NULL)',
        );
        $this->addSql('CREATE UNIQUE INDEX UNIQ_4C613032F85E0677 ON shop_user (username)');
        $this->addSql(
            'CREATE TABLE step (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, stage VARCHAR(20) NOT NULL, '
                .'at DATETIME NOT NULL, done_by VARCHAR(60) NOT NULL, text VARCHAR(500) NOT NULL, '
                .'tray_id INTEGER NOT NULL, CONSTRAINT FK_43B9FE3CE8C42A45 FOREIGN KEY (tray_id) REFERENCES tray (id) '
                .'NOT DEFERRABLE INITIALLY IMMEDIATE)',
        );
        $this->addSql('CREATE INDEX IDX_43B9FE3CE8C42A45 ON step (tray_id)');
        $this->addSql(
            'CREATE TABLE tray (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, closed_at DATETIME DEFAULT NULL, '
                .'number INTEGER NOT NULL, customer VARCHAR(200) NOT NULL, contact VARCHAR(200) NOT NULL, '
                .'app VARCHAR(40) NOT NULL, opened_at DATETIME NOT NULL, opened_by VARCHAR(60) NOT NULL)',
        );
        $this->addSql('CREATE UNIQUE INDEX UNIQ_C753C79796901F54 ON tray (number)');
        $this->addSql(
            'CREATE TABLE tray_phone (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, serial VARCHAR(40) NOT NULL, '
                .'tag VARCHAR(12) NOT NULL, role VARCHAR(10) NOT NULL, tray_id INTEGER NOT NULL, '
                .'CONSTRAINT FK_D87949F8E8C42A45 FOREIGN KEY (tray_id) REFERENCES tray (id) NOT DEFERRABLE INITIALLY '
                .'IMMEDIATE)',
        );
        $this->addSql('CREATE INDEX IDX_D87949F8E8C42A45 ON tray_phone (tray_id)');
        $this->addSql(
            'CREATE TABLE messenger_messages (id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, body CLOB NOT NULL, '
                .'headers CLOB NOT NULL, queue_name VARCHAR(190) NOT NULL, created_at DATETIME NOT NULL, '
                .'available_at DATETIME NOT NULL, delivered_at DATETIME DEFAULT NULL)',
        );
        $this->addSql(
            'CREATE INDEX IDX_75EA56E0FB7336F0E3BD61CE16BA31DBBF396750 ON messenger_messages (queue_name, '
                .'available_at, delivered_at, id)',
        );
    }

    public function down(Schema $schema): void
    {
        $this->addSql('DROP TABLE backup');
        $this->addSql('DROP TABLE log_entry');
        $this->addSql('DROP TABLE run');
        $this->addSql('DROP TABLE shop_user');
        $this->addSql('DROP TABLE step');
        $this->addSql('DROP TABLE tray');
        $this->addSql('DROP TABLE tray_phone');
        $this->addSql('DROP TABLE messenger_messages');
    }
}
