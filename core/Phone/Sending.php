<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** A stream that goes to a phone. */
final readonly class Sending
{
    /** @var \Closure(int): void */
    public \Closure $onBytes;

    /**
     * @param resource                 $source
     * @param callable(int): void|null $onBytes told the bytes of each piece as it goes
     * @param int                      $from    bytes of its beginning that are there, not more than beginning() tells;
     *                                          the stream holds what comes behind them
     */
    public function __construct(public mixed $source, ?callable $onBytes = null, public int $from = 0)
    {
        $this->onBytes = null === $onBytes ? static function (int $bytes): void {} : $onBytes(...);
    }

    /** @param callable(int): void $onBytes */
    public function toldTo(callable $onBytes): self
    {
        return new self($this->source, $onBytes, $this->from);
    }
}
