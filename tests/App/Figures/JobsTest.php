<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Figures;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Kinds\CountingKind;

/** What becomes of jobs is told in figures: when they are handed over, what stood in their way, how long they took. */
final class JobsTest extends ApiTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        CountingKind::$counted = CountingKind::$said = [];
        CountingKind::$meanwhile = null;
    }

    public function testAJobIsCountedWithItsTimesAndWhatStoodInItsWay(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->call('POST', "/api/trays/$n/moves/1/runs", ['kind' => 'backup'], 202);
        $this->plug(false);
        $this->work();
        $this->work();
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        $this->plug(true);
        $this->work();
        $this->bring($n);
        $this->handOver($n);
        self::assertSame('for_the_manager', $this->refusal('GET', '/api/figures', null, 403));

        $figures = $this->figures();
        self::assertSame([1, 1, 0], [
            $this->value($figures, 'all', 'jobs'), $this->value($figures, 'all', 'right'), $figures['withdrawn'],
        ]);
        self::assertCount(12, (array) $figures['months']);
        $shares = [];
        foreach ((array) $figures['shares'] as $share) {
            self::assertIsArray($share);
            $shares[$this->text($share, 'what')][] = $share['name'];
        }
        self::assertSame([
            'errand' => ['Chats on another phone'], 'messenger' => ['Otterpost'], 'way_in' => ['Over the cable'],
            'gives' => ['Maker Old'], 'receives' => ['Maker New'],
        ], $shares);
        // Once, however often it was looked for meanwhile; and it went on by itself.
        self::assertSame([['backup', 1, 0]], $this->inTheWay($figures));
        self::assertStringContainsString("$n-A is not connected", (string) json_encode($figures['in_the_way']));
        $stages = array_column((array) $figures['stages'], null, 'stage');
        self::assertSame(
            ['intake', 'ready', 'back_up', 'choose', 'convert', 'restore', 'check', 'hand_over'], array_keys($stages),
        );
        $worked = 'SELECT SUM(worked_ms) FROM run';
        self::assertGreaterThan(0, $this->entities()->getConnection()->fetchOne($worked));

        [$head, $line] = $this->table();
        self::assertSame([25, 25], [count($head), count($line)]);
        self::assertSame(['Chats on another phone', 'no', 'yes', 'Otterpost'], array_slice($line, 1, 4));
        self::assertSame('backup unplugged', $line[8]);
        $log = $this->call('GET', '/api/log');
        self::assertStringContainsString('Took the figures along', (string) json_encode($log['entries']));
    }

    public function testOneThatHadToBeBegunAnewWasNotRightAtTheFirstTry(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        CountingKind::$meanwhile = static fn () => throw new \RuntimeException('For the log alone.');
        $this->askAndWork($n, ['kind' => 'counting']);
        CountingKind::$meanwhile = null;
        $run = $this->text($this->move($n), 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$run/go-on", null, 202);
        $this->work();
        $this->bring($n);
        $this->handOver($n);
        $figures = $this->figures();
        self::assertSame([1, 0], [$this->value($figures, 'all', 'jobs'), $this->value($figures, 'all', 'right')]);
        self::assertSame([['counting', 1, 1]], $this->inTheWay($figures));
        self::assertNull($figures['measured_since']);
        self::assertNotSame([], $figures['stages']);
        // As one that was ended before runs were measured: no minutes are said of it.
        $this->entities()->getConnection()->executeStatement('UPDATE run SET worked_ms = 0');
        self::assertSame([], $this->call('GET', '/api/figures')['stages']);
        $later = "UPDATE run SET worked_ms = 1, asked_at = '2099-01-01 00:00:00' WHERE counter = 1";
        $this->entities()->getConnection()->executeStatement($later);
        self::assertSame('2099-01-01T00:00:00.000Z', $this->call('GET', '/api/figures')['measured_since']);
        // Withdrawn afterwards, as the records would have it.
        $this->entities()->getConnection()->executeStatement('UPDATE tray SET withdrawn = 1');
        $figures = $this->call('GET', '/api/figures?months=1');
        self::assertSame([0, 1], [$this->value($figures, 'all', 'jobs'), $figures['withdrawn']]);
        self::assertCount(1, (array) $figures['months']);
    }

    public function testWhatIsWaitedForInTheMiddleOfWorkCountsOnceHoweverOftenItIsLookedFor(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $missing = static fn () => throw PhoneUnplugged::of('RECEIVES1');
        CountingKind::$meanwhile = $missing;
        $this->askAndWork($n, ['kind' => 'counting']);
        $this->work();
        CountingKind::$meanwhile = static fn () => throw PhoneRefuses::locked();
        $this->work();
        CountingKind::$meanwhile = $missing;
        $this->work();
        self::assertEqualsCanonicalizing(
            [['counting', 2, 0], ['counting', 1, 0]], $this->inTheWay($this->figures()),
        );
    }

    private function bring(int $n): void
    {
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
    }

    private function plug(bool $isPlugged): void
    {
        $this->giving->change(static fn (array $state): array => ['plugged' => $isPlugged] + $state);
    }

    /** @return array<array-key, mixed> */
    private function figures(): array
    {
        $this->signIn('orla');
        $figures = $this->call('GET', '/api/figures');
        self::assertStringNotContainsString('Test Person', (string) json_encode($figures));

        return $figures;
    }

    /** @return array{list<string|null>, list<string|null>} */
    private function table(): array
    {
        $this->browser->request('GET', '/api/figures.csv?months=3');
        self::assertResponseHeaderSame('Content-Type', 'text/csv; charset=UTF-8; header=present');
        $response = $this->browser->getInternalResponse();
        $lines = explode("\r\n", $response->getContent());
        self::assertSame(["\u{FEFF}", ''], [mb_substr($lines[0], 0, 1), $lines[2] ?? null]);
        self::assertStringNotContainsString('Test Person', $response->getContent());

        return [str_getcsv($lines[0], escape: ''), str_getcsv($lines[1], escape: '')];
    }

    /**
     * @param array<array-key, mixed> $figures
     *
     * @return list<array{mixed, mixed, mixed}>
     */
    private function inTheWay(array $figures): array
    {
        self::assertIsList($figures['in_the_way']);

        return array_map(static function (mixed $row): array {
            self::assertIsArray($row);

            return [$row['kind'], $row['count'], $row['ended']];
        }, $figures['in_the_way']);
    }

    private function entities(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }
}
