<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/**
 * A customer is a record of their own, and a backup is theirs. Nobody is taken for somebody else by their name: each
 * tray has a customer, and one that brings a kept backup has that backup's.
 */
final class Version20261130230000 extends AbstractMigration
{
    public function up(Schema $schema): void
    {
        $this->addSql(<<<'SQL'
            CREATE TABLE customer (
                id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
                name VARCHAR(200) NOT NULL,
                contact VARCHAR(200) NOT NULL,
                language VARCHAR(12) NOT NULL
            )
            SQL);
        $this->addSql('ALTER TABLE tray ADD COLUMN customer_id INTEGER DEFAULT NULL REFERENCES customer (id)');
        $this->addSql('ALTER TABLE tray ADD COLUMN name_on_sheet VARCHAR(200) DEFAULT NULL');
        $this->addSql('ALTER TABLE backup ADD COLUMN customer_id INTEGER DEFAULT NULL REFERENCES customer (id)');
        $this->addSql(<<<'SQL'
            INSERT INTO customer (id, name, contact, language)
            SELECT t.id, t.customer, t.contact, t.language
            FROM tray t
            WHERE t.errand <> 'bring_kept'
            SQL);
        $this->addSql("UPDATE tray SET customer_id = id WHERE errand <> 'bring_kept'");
        // The backups of one that brings kept ones, its safety copies, come from phones of the same customer.
        $this->addSql(<<<'SQL'
            UPDATE tray
            SET customer_id = (
                SELECT min(made.customer_id)
                FROM move m
                    JOIN bringing g ON g.move_id = m.id
                    JOIN backup b ON b.id = g.backup_id
                    JOIN tray made ON made.id = b.tray_id
                WHERE m.tray_id = tray.id
            )
            WHERE errand = 'bring_kept'
            SQL);
        // Whatever brings nothing that is known has a customer of its own.
        $this->addSql(<<<'SQL'
            INSERT INTO customer (id, name, contact, language)
            SELECT t.id, t.customer, t.contact, t.language
            FROM tray t
            WHERE t.customer_id IS NULL
            SQL);
        $this->addSql('UPDATE tray SET customer_id = id WHERE customer_id IS NULL');
        $this->addSql(
            'UPDATE backup SET customer_id = (SELECT t.customer_id FROM tray t WHERE t.id = backup.tray_id)',
        );
        // What was told last counts.
        $this->addSql(<<<'SQL'
            UPDATE customer
            SET (name, contact, language) = (
                SELECT t.customer, t.contact, t.language
                FROM tray t
                WHERE t.customer_id = customer.id
                ORDER BY t.number DESC
                LIMIT 1
            )
            SQL);
        // What was signed stays as it was signed.
        $this->addSql('UPDATE tray SET name_on_sheet = customer WHERE closed_at IS NOT NULL');
        $this->addSql('CREATE INDEX tray_customer ON tray (customer_id)');
        $this->addSql('CREATE INDEX backup_customer ON backup (customer_id)');
        foreach (['customer', 'contact', 'language'] as $column) {
            $this->addSql('ALTER TABLE tray DROP COLUMN '.$column);
        }
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('A customer of several trays does not fit into each of them.');
    }
}
