<?php

declare(strict_types=1);

namespace Geschenk\App\Figures;

use Geschenk\App\Entity\Stage;

/** What the shop's jobs add up to. Those that were withdrawn are counted by themselves and are in nothing else. */
final class Figures
{
    public readonly Share $all;
    public int $withdrawn = 0;

    /** @var array<string, array<string, Share>> by what they have in common, then by its name */
    private array $shares = ['errand' => [], 'messenger' => [], 'way_in' => [], 'gives' => [], 'receives' => []];
    /** @var array<string, array{machine: list<int>, people: list<int>}> seconds of each job, by stage */
    private array $times = [];

    /** @param iterable<Job> $jobs */
    public function __construct(iterable $jobs)
    {
        $this->all = new Share();
        foreach ($jobs as $job) {
            $this->add($job);
        }
    }

    /** @return array<string, list<array{name: string, share: Share}>> most jobs first; by what they have in common */
    public function shares(): array
    {
        return array_map(static function (array $shares): array {
            $rows = [];
            foreach ($shares as $name => $share) {
                $rows[] = ['name' => (string) $name, 'share' => $share];
            }
            usort($rows, static fn (array $a, array $b): int => [$b['share']->jobs, $a['name']]
                <=> [$a['share']->jobs, $b['name']]);

            return $rows;
        }, $this->shares);
    }

    /**
     * The middle job's: one that stood about over night says nothing of the others.
     *
     * @return list<array{stage: string, machine_seconds: int, people_seconds: int, jobs: int}> those that any had
     */
    public function stages(): array
    {
        $rows = [];
        foreach (Stage::cases() as $stage) {
            $times = $this->times[$stage->value] ?? null;
            if (null !== $times) {
                $rows[] = [
                    'stage' => $stage->value, 'machine_seconds' => self::middle($times['machine']),
                    'people_seconds' => self::middle($times['people']), 'jobs' => count($times['people']),
                ];
            }
        }

        return $rows;
    }

    private function add(Job $job): void
    {
        if ($job->isWithdrawn) {
            ++$this->withdrawn;

            return;
        }
        $this->all->add($job);
        $common = [
            'errand' => [$job->errand->value], 'messenger' => $job->editions, 'way_in' => $job->ways,
            'gives' => $job->gives, 'receives' => $job->receives,
        ];
        foreach ($common as $what => $names) {
            foreach ($names as $name) {
                ($this->shares[$what][$name] ??= new Share())->add($job);
            }
        }
        foreach (array_keys($job->people) as $stage) {
            $this->times[$stage]['machine'][] = $job->machine[$stage] ?? 0;
            $this->times[$stage]['people'][] = $job->people[$stage];
        }
    }

    /** @param list<int> $values */
    private static function middle(array $values): int
    {
        sort($values);

        return $values[intdiv(count($values) - 1, 2)] ?? 0;
    }
}
