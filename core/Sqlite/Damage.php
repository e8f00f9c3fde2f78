<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/** What a damaged database lost: whatever could still be read was saved, and this counts the rest. */
final readonly class Damage
{
    /**
     * @param array<string, int>             $unreadablePages pages that could not be read, by the table or index they
     * belonged to
     * @param array<string, array<int|string, int>> $lostRows        rows that an index still names and no page holds,
     *                                                               by index and first column of the index
     * @param LogReading                     $log             what became of the write-ahead log
     * @param list<string>                   $uncounted       tables that lost pages while their index did too: their
     * losses may be more than is counted
     */
    public function __construct(
        public array $unreadablePages,
        public array $lostRows,
        public LogReading $log,
        public array $uncounted,
    ) {
    }

    /** How many rows the table under an index lost for one value of the index's first column. */
    public function lostBy(string $index, int|string $value): int
    {
        return $this->lostRows[$index][$value] ?? 0;
    }

    /**
     * Rows lost of tables that belong to another, by the id of the row they belonged to.
     *
     * @param list<string> $indexes whose first column is that id
     *
     * @return array<int|string, int>
     */
    public function parts(array $indexes): array
    {
        $parts = [];
        foreach ($indexes as $index) {
            foreach ($this->lostRows[$index] ?? [] as $id => $rows) {
                $parts[$id] = ($parts[$id] ?? 0) + $rows;
            }
        }

        return $parts;
    }

    public function rows(): int
    {
        return array_sum(array_map(array_sum(...), $this->lostRows));
    }
}
