<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/**
 * Finds the longest stretch of messages that still follow each other as they should (a longest increasing subsequence,
 * by the patience method). What lies outside of it has changed its place. Some 50 bytes a message while it works.
 */
final class LongestOrder
{
    /** @var list<int> */
    private array $ids = [];
    /** @var list<int> where each stands on the other side */
    private array $places = [];
    /** @var array<int, int> for each length the message that ends the best stretch of that length */
    private array $ends = [];
    /** @var list<int|null> the message before each in its stretch */
    private array $before = [];

    /**
     * @param int $id    of a message, in the order in which they should stand
     * @param int $place where it stands
     */
    public function add(int $id, int $place): void
    {
        $n = count($this->ids);
        $this->ids[] = $id;
        $this->places[] = $place;
        [$low, $high] = [0, count($this->ends)];
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($this->places[$this->ends[$middle]] < $place) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }
        $this->before[] = $this->ends[$low - 1] ?? null;
        $this->ends[$low] = $n;
    }

    /** @return list<int> ids of those that lie outside, in the order in which they should stand */
    public function outside(): array
    {
        $inside = [];
        for ($n = $this->ends[count($this->ends) - 1] ?? null; null !== $n; $n = $this->before[$n]) {
            $inside[$n] = $n;
        }

        return array_values(
            array_filter($this->ids, static fn (int $n): bool => !isset($inside[$n]), \ARRAY_FILTER_USE_KEY),
        );
    }
}
