<?php

declare(strict_types=1);

namespace Geschenk\Migrations;

use Doctrine\DBAL\Schema\Schema;
use Doctrine\Migrations\AbstractMigration;

/** What the ways in offer is one list, whatever the way; and a run keeps the offer that it takes. */
final class Version20261201020000 extends AbstractMigration
{
    private const OWN = <<<'SQL'
        json_object(
            'way', 'local_backup', 'path', json_extract(%1$s, '$.path'),
            'changed', COALESCE(json_extract(%1$s, '$.changed'), ''), 'made_at', json_extract(%1$s, '$.made_at'),
            'bytes', json_extract(%1$s, '$.bytes'), 'lock', json_extract(%1$s, '$.lock'),
            'attachments', json_extract(%1$s, '$.attachments'),
            'attachment_bytes', json_extract(%1$s, '$.attachment_bytes'), 'videos', json_extract(%1$s, '$.videos')
        )
        SQL;
    private const CABLE = <<<'SQL'
        json_object(
            'way', 'cable', 'path', '', 'changed', '', 'made_at', NULL, 'bytes', chat_bytes, 'lock', 'open',
            'attachments', NULL, 'attachment_bytes', NULL, 'videos', NULL
        )
        SQL;

    public function up(Schema $schema): void
    {
        $this->addSql('ALTER TABLE holding ADD COLUMN offers CLOB DEFAULT NULL');
        $own = sprintf(self::OWN, 'own.value');
        $cable = self::CABLE;
        $this->addSql(<<<SQL
            UPDATE holding
            SET offers = (
                SELECT json_group_array(json_object(
                    'offer', json(offer), 'counts', json(counts), 'trouble', trouble, 'trouble_params', json(params)
                ))
                FROM (
                    SELECT -1 AS place, $cable AS offer, NULL AS counts, NULL AS trouble, '{}' AS params
                    WHERE over_cable = 1
                    UNION ALL
                    SELECT
                        own.key, $own, json_extract(own.value, '$.counts'), json_extract(own.value, '$.trouble'),
                        COALESCE(json_extract(own.value, '$.trouble_params'), '{}')
                    FROM json_each(local_backups) AS own
                    ORDER BY place
                )
            )
            WHERE over_cable IS NOT NULL
            SQL);
        $this->addSql('ALTER TABLE holding DROP COLUMN over_cable');
        $this->addSql('ALTER TABLE holding DROP COLUMN local_backups');
        $this->addSql('ALTER TABLE run ADD COLUMN offer CLOB DEFAULT NULL');
        $own = sprintf(self::OWN, 'local_backup');
        $this->addSql("UPDATE run SET offer = $own WHERE local_backup IS NOT NULL AND local_backup <> 'null'");
        $this->addSql('ALTER TABLE run DROP COLUMN local_backup');
    }

    public function down(Schema $schema): void
    {
        $this->throwIrreversibleMigrationException('Other ways in have no place in the version before.');
    }
}
