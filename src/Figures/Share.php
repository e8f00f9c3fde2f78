<?php

declare(strict_types=1);

namespace Geschenk\App\Figures;

/** Jobs that have something in common, by month: how many, and how many of them went right at the first try. */
final class Share
{
    public int $jobs = 0;
    public int $right = 0;

    /** @var array<string, array{jobs: int, right: int}> by month */
    public array $months = [];

    public function add(Job $job): void
    {
        $month = $this->months[$job->month] ?? ['jobs' => 0, 'right' => 0];
        $right = $job->isRight ? 1 : 0;
        $this->months[$job->month] = ['jobs' => $month['jobs'] + 1, 'right' => $month['right'] + $right];
        ++$this->jobs;
        $this->right += $right;
    }
}
