<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\MemoryFolder;
use Geschenk\Core\Files\Durable\ScratchFolder;

/**
 * Sealed files that are read as a whole, databases, unsealed into memory: together no more than what it may hold. Who
 * comes a moment later finds it there; a while after the last it is gone.
 */
final readonly class OpenCopies
{
    /** Seconds for which one stays that nobody asks for. */
    public const STAYS = 300;

    private MemoryFolder $folder;

    /**
     * @param string $place in memory
     * @param string $of    whose they are: a folder with sealed files
     * @param int    $most  bytes of all of them
     */
    public function __construct(private string $place, string $of, private int $most = 4_000_000_000)
    {
        $this->folder = new MemoryFolder($place, 'open', $of);
    }

    /**
     * @return OpenCopy there for as long as it is in somebody's hands
     *
     * @throws SealBroken
     * @throws MemoryLacks
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function of(SealedFile $file): OpenCopy
    {
        $bytes = $file->bytes() ?? throw SealBroken::at($file->of);
        $shared = $this->folder->path.'/'.$this->name($file);
        $mine = ScratchFolder::in($this->place);
        $copy = $mine->path.'/'.basename($file->path);
        // Another name of the same bytes: what is swept away under the shared one stays for whoever has it.
        if ($this->folder->isOurs() && Disk::quietly(static fn (): bool => link($shared, $copy))) {
            Disk::quietly(static fn (): bool => touch($shared));
        } else {
            $this->makeRoom($bytes);
            $this->folder->make();
            $file->unseal($copy);
            // Where another was quicker, that is as good.
            !$this->folder->isOurs() ?: Disk::quietly(static fn (): bool => link($copy, $shared));
        }

        return new OpenCopy($copy, $mine);
    }

    /** Those of one folder with sealed files. */
    public function drop(string $folder): void
    {
        foreach (glob($this->folder->path.'/'.MemoryFolder::mark($folder).'-*') ?: [] as $path) {
            Folder::remove($path);
        }
    }

    /** Those that nobody has asked for a while, or all of them. */
    public function sweep(int $stays = self::STAYS): void
    {
        foreach (glob($this->folder->path.'/*') ?: [] as $path) {
            clearstatcache(true, $path);
            if (time() - (int) @filemtime($path) >= $stays) {
                Folder::remove($path);
            }
        }
    }

    /** @throws MemoryLacks */
    private function makeRoom(int $bytes): void
    {
        $there = [];
        foreach (glob($this->folder->path.'/*') ?: [] as $path) {
            $about = @stat($path);
            if (false !== $about) {
                $there[$path] = ['at' => $about['mtime'], 'bytes' => $about['size']];
            }
        }
        uasort($there, static fn (array $a, array $b): int => $a['at'] <=> $b['at']);
        $sum = array_sum(array_column($there, 'bytes'));
        foreach ($there as $path => $one) {
            if ($sum + $bytes <= $this->most && $this->free() > $bytes) {
                return;
            }
            Folder::remove($path);
            $sum -= $one['bytes'];
        }
        if ($sum + $bytes > $this->most || $this->free() <= $bytes) {
            throw MemoryLacks::of($bytes);
        }
    }

    private function free(): int
    {
        return (int) @disk_free_space($this->place);
    }

    /** The version of a file that it is: one that was sealed anew is another. */
    private function name(SealedFile $file): string
    {
        $about = @stat($file->path);
        $version = false === $about ? '' : $about['ino'].' '.$about['mtime'].' '.$about['size'];

        return MemoryFolder::mark(dirname($file->path, 2)).'-'.substr(hash('sha256', $file->path.' '.$version), 0, 32);
    }
}
