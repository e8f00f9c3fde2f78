<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Message;

/** How messages of a foreign database that are unusual in any way are made, one by one. */
final readonly class UnusualRows
{
    /** @var \Closure(list<mixed>): Message */
    public \Closure $make;
    /** @var \Closure(list<mixed>, \Throwable): void */
    public \Closure $broken;

    /**
     * @param string                                  $select what `$make` wants of a row called s, FROM `temp.unusual
     *                                                        o` and what it is joined with
     * @param callable(list<mixed>): Message          $make   throws what broken rows make objects throw; asks beside()
     *                                                        of BulkFill for what belongs to the message
     * @param callable(list<mixed>, \Throwable): void $broken
     */
    public function __construct(public string $select, callable $make, callable $broken)
    {
        $this->make = $make(...);
        $this->broken = $broken(...);
    }
}
