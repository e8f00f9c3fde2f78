<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Seal\SealBroken;

/**
 * Reads the content of a copy from its beginning on. A portion is fetched when something of it is read: what is skipped
 * as a whole does not travel.
 *
 * @phpstan-import-type PortionLine from PlacedList
 */
final class PlacedReading
{
    /** Bytes from the beginning of the copy. */
    private int $at = 0;
    private int $n = 0;
    /** Where the n-th portion begins. */
    private int $begins = 0;
    /** @var resource|null the n-th portion, as far as it was read */
    private mixed $stream = null;

    /** @param list<PortionLine> $list */
    public function __construct(private readonly PlacedPortions $portions, private readonly array $list)
    {
    }

    public function skip(int $bytes): void
    {
        $this->at += $bytes;
    }

    /**
     * @param int $most bytes
     *
     * @return string at least one
     *
     * @throws PlaceFailure where there is nothing, or what is there is not what was put there
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function next(int $most): string
    {
        while (isset($this->list[$this->n]) && $this->at >= $this->begins + $this->list[$this->n]['bytes']) {
            $this->begins += $this->list[$this->n]['bytes'];
            ++$this->n;
            $this->close();
        }
        $portion = $this->list[$this->n] ?? null;
        if (null === $portion) {
            throw $this->portions->altered('');
        }
        try {
            $this->stream ??= $this->portions->taken($portion['portion'])->open();
            fseek($this->stream, $this->at - $this->begins);
            $piece = Disk::read(
                $this->stream, min($most, $portion['bytes'] - ($this->at - $this->begins)), 'portion',
            );
        } catch (SealBroken) {
            throw $this->portions->altered($portion['portion']);
        }
        if ('' === $piece) {
            throw $this->portions->altered($portion['portion']);
        }
        $this->at += strlen($piece);

        return $piece;
    }

    private function close(): void
    {
        is_resource($this->stream) && fclose($this->stream);
        $this->stream = null;
    }
}
