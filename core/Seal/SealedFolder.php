<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;

/** Files that lie sealed in a folder, each under a name that tells nothing: which there are, somebody has to know. */
final readonly class SealedFolder
{
    public function __construct(public string $path, private DataKey $key)
    {
    }

    /** Whether a path in such a folder, as it lies, is that of a file that was sealed. */
    public static function holds(string $path): bool
    {
        return 1 === preg_match('/^[0-9a-f]{2}\//', $path);
    }

    /** @param string $path what it is of */
    public function file(string $path): SealedFile
    {
        $name = $this->key->nameOf($path);

        return new SealedFile($this->path.'/'.substr($name, 0, 2).'/'.substr($name, 2), $this->key, $path);
    }

    /**
     * Seals all of a folder; that it is on the disk is waited for by the caller.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function sealAll(string $from, Progress $progress = new NoProgress()): void
    {
        foreach (Folder::files($from) as $path) {
            $file = $this->file($path);
            Folder::make(dirname($file->path));
            $content = Disk::open($from.'/'.$path, 'r');
            try {
                $file->seal($content, static fn (int $bytes) => $progress->advance(0, $bytes));
            } finally {
                fclose($content);
            }
            $progress->advance(1);
        }
    }

    /**
     * Seals one file that lies open: all of it is on the disk, or what was there before.
     *
     * @param string $path what it is of
     * @param string $from full path
     *
     * @throws SealBroken  when it does not read back as it was written
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function put(string $path, string $from): void
    {
        $file = $this->file($path);
        Folder::make(dirname($file->path));
        $part = new SealedFile($file->path.'.part', $this->key, $path);
        $content = Disk::open($from, 'r');
        try {
            $part->seal($content);
        } finally {
            fclose($content);
        }
        Disk::sync($part->path);
        foreach ($part->pieces() as $_) {
            // Each opens, or says that it does not.
        }
        Disk::move($part->path, $file->path);
    }

    public function remove(string $path): void
    {
        Folder::remove($this->file($path)->path);
    }
}
