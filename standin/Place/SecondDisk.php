<?php

declare(strict_types=1);

namespace Geschenk\Standin\Place;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;

/** A folder that stands in for a second disk: not at its place once it is switched off, with all that lies on it. */
final readonly class SecondDisk
{
    private const OFF = 'off';
    private const ON = 'second-disk';

    public function __construct(private string $folder)
    {
    }

    /** Makes one that is on, where there is none yet. */
    public function make(): void
    {
        $this->isMade() ?: Folder::make($this->path());
    }

    public function isMade(): bool
    {
        return is_dir($this->folder);
    }

    /** Where it is while it is on. */
    public function path(): string
    {
        return $this->folder.'/'.self::ON;
    }

    public function isOn(): bool
    {
        clearstatcache();

        return is_dir($this->path());
    }

    public function switchOn(): void
    {
        $this->isOn() ?: Disk::move($this->folder.'/'.self::OFF, $this->path());
    }

    public function switchOff(): void
    {
        !$this->isOn() ?: Disk::move($this->path(), $this->folder.'/'.self::OFF);
    }
}
