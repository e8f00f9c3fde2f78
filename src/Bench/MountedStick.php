<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Geschenk\Core\Stick\Stick;
use Geschenk\Core\Stick\StickHindrance;

/** A stick that this computer has mounted: it is there as long as its folder is a file system of its own. */
final readonly class MountedStick implements Stick
{
    private const LONGEST = 40;

    public function __construct(private string $folder, private string $name)
    {
    }

    /** @return string|null the name that an id stands for; null for what is none */
    public static function name(string $id): ?string
    {
        $name = 1 === preg_match('/^([0-9a-f]{2}){1,40}$/D', $id) ? (string) hex2bin($id) : '';

        return '' === $name || '.' === $name || '..' === $name || str_contains($name, '/') || str_contains($name, "\0")
            ? null
            : $name;
    }

    public function id(): string
    {
        return bin2hex(substr($this->name, 0, self::LONGEST));
    }

    public function label(): string
    {
        return mb_scrub($this->name);
    }

    public function isThere(): bool
    {
        clearstatcache();
        $own = @lstat($this->path());
        $above = @stat($this->folder);

        return false !== $own && false !== $above && is_dir($this->path()) && !is_link($this->path())
            && strlen($this->name) <= self::LONGEST && $own['dev'] !== $above['dev'];
    }

    public function freeBytes(): int
    {
        $free = $this->isThere() ? @disk_free_space($this->path()) : false;

        return false === $free ? throw StickHindrance::gone($this->label()) : (int) $free;
    }

    public function folder(): string
    {
        return $this->isThere() ? $this->path() : throw StickHindrance::gone($this->label());
    }

    private function path(): string
    {
        return $this->folder.'/'.$this->name;
    }
}
