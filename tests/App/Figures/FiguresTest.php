<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Figures;

use Geschenk\App\Entity\Errand;
use Geschenk\App\Entity\Setback;
use Geschenk\App\Figures\Figures;
use Geschenk\App\Figures\Job;
use Geschenk\App\Figures\Share;
use Geschenk\App\Figures\Span;
use PHPUnit\Framework\TestCase;

final class FiguresTest extends TestCase
{
    public function testJobsAreCountedByMonthAndByWhatTheyHaveInCommon(): void
    {
        $figures = new Figures([
            $this->job('2026-10'), $this->job('2026-11', isRight: false, ways: ['local_backup']),
            $this->job('2026-11'), $this->job('2026-11', isWithdrawn: true),
        ]);
        self::assertSame([3, 2, 1], [$figures->all->jobs, $figures->all->right, $figures->withdrawn]);
        self::assertSame(
            ['2026-10' => ['jobs' => 1, 'right' => 1], '2026-11' => ['jobs' => 2, 'right' => 1]], $figures->all->months,
        );
        $told = array_map(static fn (array $rows): array => array_map(
            static fn (array $row): array => [$row['name'], $row['share']->jobs, $row['share']->right], $rows,
        ), $figures->shares());
        self::assertSame([['cable', 2, 2], ['local_backup', 1, 0]], $told['way_in']);
        self::assertSame([['Otterpost', 3, 2]], $told['messenger']);
        self::assertSame([['Maker Old', 3, 2]], $told['gives']);
        self::assertSame([], $told['receives']);
    }

    public function testTheMiddleJobIsToldWhateverTheLongestTook(): void
    {
        $jobs = array_map(
            fn (int $seconds): Job => $this->job('2026-11', machine: ['back_up' => $seconds], people: [
                'ready' => 2 * $seconds, 'back_up' => 1,
            ]), [60, 30, 90_000],
        );
        self::assertSame([
            ['stage' => 'ready', 'machine_seconds' => 0, 'people_seconds' => 120, 'jobs' => 3],
            ['stage' => 'back_up', 'machine_seconds' => 60, 'people_seconds' => 1, 'jobs' => 3],
        ], (new Figures($jobs))->stages());
        self::assertSame([], (new Figures([]))->stages());
        self::assertEquals(new Share(), (new Figures([]))->all);
    }

    public function testASpanIsOfWholeMonthsOfTheShop(): void
    {
        // In the shop it is summer still, and the first of the month since half an hour.
        $span = Span::ofMonths(3, new \DateTimeImmutable('2026-08-31 23:30:00', new \DateTimeZone('UTC')));
        self::assertSame(['2026-07', '2026-08', '2026-09'], $span->months());
        self::assertSame('2026-06-30 23:00:00', gmdate('Y-m-d H:i:s', $span->from->getTimestamp()));
        $now = new \DateTimeImmutable('2026-03-31 12:00:00');
        self::assertSame(['2026-02', '2026-03'], Span::ofMonths(2, $now)->months());
        self::assertCount(1, Span::ofMonths(0, $now)->months());
        self::assertCount(Span::MONTHS_MOST, Span::ofMonths(\PHP_INT_MAX, $now)->months());
    }

    public function testWhatMayBeANameIsNotKept(): void
    {
        $setback = new Setback(null, new \DateTimeImmutable(), 'backup', 'file_unreadable', [
            'path' => 'Media/Anna Karlsson.jpg', 'name' => 'Anna', 'serial' => 'KFM4071190', 'tag' => '44-A',
            'point' => 'theft_lock', 'count' => 3,
        ], true);
        self::assertSame([
            'path' => '…', 'name' => '…', 'serial' => '…', 'tag' => '44-A', 'point' => 'theft_lock', 'count' => 3,
        ], $setback->params);
    }

    /**
     * @param array<string, int> $machine
     * @param array<string, int> $people
     * @param list<string>       $ways
     */
    private function job(
        string $month,
        bool $isRight = true,
        bool $isWithdrawn = false,
        array $machine = [],
        array $people = [],
        array $ways = ['cable'],
    ): Job {
        return new Job(
            $month, Errand::Move, $isWithdrawn, ['Maker Old'], [], ['Otterpost'], $ways, $machine, $people, [],
            $isRight,
        );
    }
}
