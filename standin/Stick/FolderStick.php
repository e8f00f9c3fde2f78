<?php

declare(strict_types=1);

namespace Geschenk\Standin\Stick;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Stick\Stick;
use Geschenk\Core\Stick\StickHindrance;

/**
 * A folder that stands in for a stick: as large as it says, and gone from its place once it is pulled out, with
 * whatever was being written to it cut off.
 *
 * @phpstan-type StickState array{label: string, bytes: int, pull_after?: int, said?: string}
 */
final readonly class FolderStick implements Stick
{
    public const FILE = 'stick.json';
    private const IN = 'in';
    private const OUT = 'out';

    public function __construct(private string $folder)
    {
    }

    /** @param string $said what its owner says with it; "" for nothing */
    public static function make(string $folder, string $label, int $bytes, bool $isIn, string $said = ''): self
    {
        Folder::make($folder.'/'.($isIn ? self::IN : self::OUT));
        Disk::put($folder.'/'.self::FILE, json_encode(
            ['label' => $label, 'bytes' => $bytes, 'said' => $said], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
        ));

        return new self($folder);
    }

    public function id(): string
    {
        return basename($this->folder);
    }

    public function label(): string
    {
        return $this->state()['label'];
    }

    public function bytes(): int
    {
        return $this->state()['bytes'];
    }

    public function said(): string
    {
        return $this->state()['said'] ?? '';
    }

    public function isThere(): bool
    {
        $after = $this->state()['pull_after'] ?? null;
        clearstatcache();
        if (null !== $after && is_dir($this->in()) && $this->used() >= $after) {
            $this->pull();
        }

        return is_dir($this->in());
    }

    public function freeBytes(): int
    {
        return max(0, $this->bytes() - $this->used());
    }

    public function folder(): string
    {
        return $this->isThere() ? $this->in() : throw StickHindrance::gone($this->label());
    }

    public function plug(): void
    {
        if (!is_dir($this->in())) {
            Disk::move($this->folder.'/'.self::OUT, $this->in());
        }
    }

    public function pull(): void
    {
        $this->change(static function (array $state): array {
            unset($state['pull_after']);

            return $state;
        });
        if (is_dir($this->in())) {
            Disk::move($this->in(), $this->folder.'/'.self::OUT);
        }
    }

    /** Has it pulled out by itself as soon as so many bytes lie on it. */
    public function pullAfter(int $bytes): void
    {
        $this->change(static fn (array $state): array => ['pull_after' => $bytes] + $state);
    }

    /** Where what lies on it is, in or out. */
    public function content(): string
    {
        return is_dir($this->in()) ? $this->in() : $this->folder.'/'.self::OUT;
    }

    /** @return int bytes of what lies on it, wherever it is */
    public function used(): int
    {
        $there = $this->content();
        $bytes = 0;
        foreach (Folder::files($there) as $file) {
            $bytes += (int) @filesize($there.'/'.$file);
        }

        return $bytes;
    }

    private function in(): string
    {
        return $this->folder.'/'.self::IN;
    }

    /** @param callable(StickState): StickState $change */
    private function change(callable $change): void
    {
        Disk::put($this->folder.'/'.self::FILE, json_encode($change($this->state()), \JSON_THROW_ON_ERROR));
    }

    /** @return StickState */
    private function state(): array
    {
        /** @var StickState $state */
        $state = json_decode(Disk::contents($this->folder.'/'.self::FILE), true, 4, \JSON_THROW_ON_ERROR);

        return $state;
    }
}
