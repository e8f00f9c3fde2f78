<?php

declare(strict_types=1);

namespace Geschenk\Tests\Migration;

use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/**
 * A data folder that the version before moves has made (four trays: handed over, converted, checked, just begun) is
 * carried across by the migrations: trays, run sheets, backups, checks, log and files.
 */
final class CarryAcrossTest extends TestCase
{
    use Scratch;

    private \SQLite3 $shop;

    protected function setUp(): void
    {
        exec(
            sprintf('tar xzf %s -C %s', escapeshellarg(__DIR__.'/before-moves.tar.gz'), escapeshellarg($this->path())),
        );
    }

    public function testEverythingIsCarriedAcross(): void
    {
        $this->migrate();
        self::assertSame([
            [41, 'Ada Whole', 'otterpost', 1, 1, 1, 1, 0], [42, 'Bo Half', 'otterpost', 1, 1, 0, 0, 1],
            [43, 'Cy Checked', 'otterpost', 1, 1, 1, 1, 1], [44, 'Di New', 'otterpost', 0, 0, 0, 0, 1],
        ], $this->rows(<<<'SQL'
            SELECT t.number, k.name, m.app, b.backup_id IS NOT NULL, b.rehearsal IS NOT NULL,
                b.restored_at IS NOT NULL, b.check_id IS NOT NULL,
                (SELECT MAX(p.held) FROM tray_phone p WHERE p.tray_id = t.id)
            FROM tray t
                JOIN customer k ON k.id = t.customer_id
                JOIN move m ON m.tray_id = t.id
                JOIN bringing b ON b.move_id = m.id
            ORDER BY t.number
            SQL));
        // Runs in the order in which they were asked for, each move pointing at its last.
        self::assertSame([
            ['check', 'done'], ['conversion', 'done'], ['check', 'done'], ['backup', 'queued'],
        ], $this->rows(
            'SELECT r.kind, r.state FROM move m JOIN run r ON r.id = m.run_id ORDER BY m.id',
        ));
        self::assertSame([[11, 11, 1, 11]], $this->rows(
            'SELECT COUNT(*), COUNT(DISTINCT counter), MIN(counter), MAX(counter) FROM run',
        ));
        self::assertSame([[32, 1, 22]], $this->rows(<<<'SQL'
            SELECT COUNT(*), SUM(json_extract(params, '$.act') = 'uncovered'), (SELECT COUNT(*) FROM step
                WHERE code = 'told')
            FROM log_entry
            SQL));
        // What was in the log is covered by the chain from now on.
        self::assertSame([[1, 32, 32]], $this->rows(
            'SELECT MIN(id), MAX(id), COUNT(DISTINCT hash) FROM log_entry WHERE length(hash) = 64',
        ));
        self::assertSame([[1]], $this->rows(
            "SELECT COUNT(*) FROM step WHERE json_extract(params, '$.text') LIKE 'Handed over%' AND move_id IS NULL",
        ));
    }

    public function testTheResultsAreThoseOfTheFiles(): void
    {
        $this->migrate();
        foreach ($this->rows(
            'SELECT m.id, t.number, c.run_id, c.totals FROM arrival_check c JOIN bringing b ON b.id = c.bringing_id '
                .'JOIN move m ON m.id = b.move_id JOIN tray t ON t.id = m.tray_id',
        ) as [$move, $number, $run, $totals]) {
            $path = $this->path(sprintf('trays/%d/moves/1/checks/%s.sqlite', $number, $run));
            self::assertEquals((new Result($path))->totals()->toArray(), json_decode((string) $totals, true));
        }
        $rehearsal = json_decode((string) $this->rows('SELECT rehearsal FROM bringing WHERE move_id = 2')[0][0], true);
        self::assertIsArray($rehearsal);
        $conversion = $this->path('trays/42/moves/1/conversion');
        self::assertEquals((new Result($conversion.'/rehearsal.sqlite'))->totals()->toArray(), $rehearsal['totals']);
        $expected = new ChatStore($conversion.'/expected.sqlite');
        self::assertSame($expected->summary()['attachments_missing'], $rehearsal['attachments_absent']);
        self::assertSame([
            'choices', 'judged_at', 'backup', 'platform', 'losses', 'attachments_absent', 'totals',
        ], array_keys(
            array_replace(array_flip(['choices', 'judged_at', 'backup', 'platform', 'losses']), $rehearsal),
        ));
        $id = $this->rows('SELECT backup_id FROM bringing WHERE move_id = 2')[0][0];
        $vault = new PlainVault($this->path('backups'));
        self::assertIsString($id);
        $vault->verify($id);
        $backup = $vault->open($id);
        self::assertSame($expected->messageCount(), $backup->chats()->messageCount());
    }

    public function testASpoiltFileOfOneTrayCostsThatTrayAlone(): void
    {
        file_put_contents($this->path('trays/42/conversion/rehearsal.sqlite'), 'spoilt');
        unlink($this->path('trays/43/arrival.sqlite'));
        file_put_contents($this->path('trays/41/conversion/plan.json'), '{"cut');
        $this->migrate();
        self::assertSame([[0, 1], [0, 0], [1, 0], [0, 0]], $this->rows(
            'SELECT rehearsal IS NOT NULL, check_id IS NOT NULL FROM bringing ORDER BY id',
        ));
    }

    private function migrate(): void
    {
        exec(sprintf(
            'GESCHENK_DATA=%s APP_ENV=test APP_SECRET=only-for-the-tests %s %s doctrine:migrations:migrate '
                .'--no-interaction 2>&1',
            escapeshellarg($this->path()), escapeshellarg(\PHP_BINARY), escapeshellarg(
                dirname(__DIR__, 2).'/bin/console',
            ),
        ), $said, $code);
        self::assertSame(0, $code, implode("\n", $said));
        $this->shop = new \SQLite3($this->path('shop.sqlite'));
        self::assertSame([['ok']], $this->rows('PRAGMA integrity_check'));
        self::assertSame([], $this->rows('PRAGMA foreign_key_check'));
    }

    /** @return list<list<int|float|string|null>> */
    private function rows(string $sql): array
    {
        $rows = [];
        $found = $this->shop->query($sql);
        self::assertNotFalse($found);
        while (false !== ($row = $found->fetchArray(\SQLITE3_NUM))) {
            /** @var list<int|float|string|null> $row */
            $rows[] = $row;
        }

        return $rows;
    }
}
