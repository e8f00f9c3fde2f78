<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\CsvLine;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Figures\Figures;
use Geschenk\App\Figures\InTheWay;
use Geschenk\App\Figures\Job;
use Geschenk\App\Figures\Jobs;
use Geschenk\App\Figures\Share;
use Geschenk\App\Figures\Span;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;

/** What the shop's jobs come to, as a page has it and as a table. */
final readonly class FiguresView
{
    public function __construct(private Jobs $jobs, private InTheWay $inTheWay, private Words $words)
    {
    }

    /** @return array<string, mixed> */
    public function of(Span $span): array
    {
        $figures = new Figures($this->jobs->between($span->from, $span->until));
        $shares = [];
        foreach ($figures->shares() as $what => $rows) {
            foreach ($rows as $row) {
                $shares[] = [
                    'what' => $what, 'name' => $this->named($what, $row['name']), ...self::share($row['share']),
                ];
            }
        }

        return [
            'months' => $span->months(), 'all' => self::share($figures->all), 'withdrawn' => $figures->withdrawn,
            'measured_since' => Time::isoOrNull($this->jobs->measuredSince()),
            'stages' => $figures->stages(), 'shares' => $shares,
            'in_the_way' => array_map(fn (array $row): array => [
                'kind' => $row['kind'], 'work' => $this->words->say('run.'.$row['kind']),
                'text' => $this->words->failure($row['reason'], $row['params']),
                'count' => $row['count'], 'ended' => $row['ended'], 'last_at' => Time::iso($row['last_at']),
            ], $this->inTheWay->between($span->from, $span->until)),
        ];
    }

    /** @return iterable<string> lines of a table, one for each job; nobody's name is in it */
    public function table(Span $span): iterable
    {
        $stages = Stage::cases();
        $of = fn (string $head): array => array_map(
            fn (Stage $stage): string => $this->words->say('stage.'.$stage->value).', '.$this->words->say($head),
            $stages,
        );
        $heads = ['month', 'errand', 'withdrawn', 'right', 'messenger', 'way_in', 'gives', 'receives', 'setbacks'];
        yield CsvLine::MARK.CsvLine::of([
            ...array_map(fn (string $head): string => $this->words->say('figures_column.'.$head), $heads),
            ...$of('figures_column.machine'), ...$of('figures_column.people'),
        ]);
        $yes = fn (bool $is): string => $this->words->say($is ? 'figures.yes' : 'figures.no');
        foreach ($this->jobs->between($span->from, $span->until) as $job) {
            yield CsvLine::of([
                $job->month, $this->named('errand', $job->errand->value), $yes($job->isWithdrawn),
                $yes($job->isRight), implode(', ', $job->editions),
                implode(', ', array_map(fn (string $way): string => $this->named('way_in', $way), $job->ways)),
                implode(', ', $job->gives), implode(', ', $job->receives), implode(', ', $job->setbacks),
                ...array_map(static fn (Stage $stage): string => self::minutes($job->machine, $stage), $stages),
                ...array_map(static fn (Stage $stage): string => self::minutes($job->people, $stage), $stages),
            ]);
        }
    }

    /** @param array<string, int> $seconds by stage */
    private static function minutes(array $seconds, Stage $stage): string
    {
        return isset($seconds[$stage->value]) ? number_format($seconds[$stage->value] / 60, 1, '.', '') : '';
    }

    private function named(string $what, string $name): string
    {
        return match ($what) {
            'errand' => $this->words->say('errand.'.$name),
            'way_in' => $this->words->say('way.'.$name.'.summed'),
            default => $name,
        };
    }

    /** @return array{jobs: int, right: int, months: list<array{month: string, jobs: int, right: int}>} */
    private static function share(Share $share): array
    {
        $months = $share->months;
        ksort($months);
        $rows = [];
        foreach ($months as $month => $counts) {
            $rows[] = ['month' => (string) $month] + $counts;
        }

        return ['jobs' => $share->jobs, 'right' => $share->right, 'months' => $rows];
    }
}
