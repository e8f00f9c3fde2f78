<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** Rows that belong to messages, in the messages' order: each message takes its own, and nothing else is held. */
final class RowsInStep
{
    /** @param \Generator<int, list<mixed>> $rows the message's id first, rising */
    public function __construct(private readonly \Generator $rows)
    {
    }

    /**
     * @param int $message id; never less than that of the call before
     *
     * @return list<list<mixed>> without the message's id; nothing when they were taken already
     */
    public function of(int $message): array
    {
        $taken = [];
        for (; $this->rows->valid(); $this->rows->next()) {
            $row = $this->rows->current();
            if ($row[0] > $message) {
                break;
            }
            if ($row[0] === $message) {
                $taken[] = array_slice($row, 1);
            }
        }

        return $taken;
    }
}
