<?php

declare(strict_types=1);

namespace Geschenk\Core\Stick;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Progress;

/**
 * Puts a file, or a folder with all that is in it, onto a stick: as a whole or not at all under its name. What lies
 * there of an attempt before is compared and gone on from, within a file too.
 */
final readonly class StickCopy
{
    private const BEGUN = '.part';
    /** Bytes that are read and written at once; between two of them the stick is asked whether it is there. */
    private const PIECE = 1_048_576;

    public function __construct(private Stick $stick)
    {
    }

    /** Whether something lies under that name already. */
    public function has(string $name): bool
    {
        $path = $this->stick->folder().'/'.$name;
        clearstatcache(true, $path);

        return file_exists($path) || is_link($path);
    }

    /**
     * @param string $from full path of a file or a folder
     * @param string $name that it gets on the stick
     *
     * @throws StickHindrance
     * @throws StickFailure
     */
    public function put(string $from, string $name, Progress $progress): void
    {
        $files = is_dir($from) ? iterator_to_array(Folder::files($from), false) : [''];
        $bytes = 0;
        foreach ($files as $file) {
            $bytes += (int) filesize(self::below($from, $file));
        }
        $part = $this->stick->folder().'/'.$name.self::BEGUN;
        $this->guarded($part, function () use ($from, $files, $bytes, $part, $progress): void {
            is_dir($from) ? $this->makeRoomFor($files, $part) : self::clearFolder($part);
            $progress->phase('putting', count($files), $bytes);
            $left = $bytes;
            foreach ($files as $file) {
                $left -= $this->copy(self::below($from, $file), self::below($part, $file), $left, $progress);
                $progress->advance(1);
            }
            is_dir($part) ? Disk::syncAll($part) : Disk::sync($part);
        });
        $this->guarded($part, function () use ($from, $files, $bytes, $part, $progress): void {
            $progress->phase('reading_back', count($files), $bytes);
            foreach ($files as $file) {
                $this->compare(self::below($from, $file), self::below($part, $file), $progress);
                $progress->advance(1);
            }
        });
        $this->guarded($part, function () use ($part, $name): void {
            Disk::move($part, $this->stick->folder().'/'.$name);
        });
    }

    /** Whether what lies under that name is the very same, to the last byte: put there by one that was killed then. */
    public function holds(string $from, string $name): bool
    {
        $path = $this->stick->folder().'/'.$name;
        $files = static fn (string $of): array => is_dir($of)
            ? iterator_to_array(Folder::files($of), false)
            : (is_file($of) ? [''] : []);
        if ($files($from) !== $files($path)) {
            return false;
        }
        foreach ($files($from) as $file) {
            if (filesize(self::below($from, $file)) !== filesize(self::below($path, $file))
                || hash_file('sha256', self::below($from, $file)) !== hash_file('sha256', self::below($path, $file))) {
                return false;
            }
        }

        return true;
    }

    /**
     * Removes what was begun under that name.
     *
     * @return int bytes of its files
     *
     * @throws StickHindrance
     * @throws StickFailure
     */
    public function discardBegun(string $name): int
    {
        $part = $this->stick->folder().'/'.$name.self::BEGUN;
        $bytes = is_file($part) ? (int) filesize($part) : 0;
        $this->guarded($part, function () use ($part, &$bytes): void {
            $bytes += Folder::discard($part);
        });

        return $bytes;
    }

    /**
     * What is in the way of the files is removed, and what does not belong to them.
     *
     * @param list<string> $files
     */
    private function makeRoomFor(array $files, string $part): void
    {
        if (is_link($part) || is_file($part)) {
            Folder::discard($part);
        }
        Folder::make($part);
        $wanted = array_flip($files);
        foreach (iterator_to_array(Folder::files($part), false) as $file) {
            if (!isset($wanted[$file])) {
                Folder::discard($part.'/'.$file);
            }
        }
    }

    private static function clearFolder(string $part): void
    {
        if (is_link($part) || is_dir($part)) {
            Folder::discard($part);
        }
    }

    /**
     * @param int $left bytes of all that is still to come, this file among them
     *
     * @return int bytes of the file
     */
    private function copy(string $from, string $to, int $left, Progress $progress): int
    {
        $size = (int) filesize($from);
        Folder::make(dirname($to));
        if (is_link($to) || is_dir($to)) {
            Folder::discard($to);
        }
        $source = Disk::open($from, 'r');
        $target = Disk::open($to, 'c+');
        try {
            $same = $this->sameBytes($source, $target, $size, $progress);
            $free = $this->stick->freeBytes();
            $there = (int) (fstat($target)['size'] ?? 0);
            if ($size - $same > $free + max(0, $there - $same)) {
                throw StickHindrance::full($this->stick->label(), $left - $same, $free);
            }
            ftruncate($target, max(0, $same)) ?: throw Disk::failure('write', $to);
            fseek($source, $same);
            fseek($target, $same);
            while ($same < $size) {
                $this->ensureThere();
                $piece = Disk::read($source, min(self::PIECE, $size - $same), $from);
                Disk::write($target, $piece, $to);
                $same += strlen($piece);
                $progress->advance(0, strlen($piece));
            }
            Disk::finish($target, $to);
        } finally {
            fclose($source);
            if (is_resource($target)) {
                fclose($target);
            }
        }
        // Some file systems keep other times; nothing depends on them.
        Disk::quietly(static fn (): bool => touch($to, (int) filemtime($from)));

        return $size;
    }

    /**
     * @param resource $source
     * @param resource $target
     *
     * @return int how many bytes from the beginning are there already, in whole pieces or to the end
     */
    private function sameBytes(mixed $source, mixed $target, int $size, Progress $progress): int
    {
        $same = 0;
        $there = (int) (fstat($target)['size'] ?? 0);
        while ($same < min($size, $there)) {
            $length = max(1, min(self::PIECE, $size - $same));
            $piece = (string) fread($target, $length);
            if ($piece !== (string) fread($source, $length)) {
                break;
            }
            $same += strlen($piece);
            $progress->advance(0, strlen($piece));
        }

        return $same;
    }

    private function compare(string $from, string $to, Progress $progress): void
    {
        $source = Disk::open($from, 'r');
        $target = Disk::open($to, 'r');
        try {
            do {
                $this->ensureThere();
                $piece = (string) fread($source, self::PIECE);
                if ($piece !== (string) fread($target, max(1, strlen($piece)))) {
                    throw StickFailure::altered($this->stick->label(), basename($to));
                }
                $progress->advance(0, strlen($piece));
            } while ('' !== $piece);
        } finally {
            fclose($source);
            fclose($target);
        }
    }

    private function ensureThere(): void
    {
        $this->stick->isThere() ?: throw StickHindrance::gone($this->stick->label());
    }

    /** What the disk says of it is said of the stick: it is out, or full, or does not do its work. */
    private function guarded(string $part, \Closure $work): void
    {
        try {
            $work();
        } catch (DiskFull|DiskFailure $trouble) {
            $label = $this->stick->label();
            throw match (true) {
                !$this->stick->isThere() => StickHindrance::gone($label),
                $trouble instanceof DiskFull => StickHindrance::full($label, 0, $this->stick->freeBytes()),
                default => StickFailure::at(
                    $label, (string) ($trouble->fields['act'] ?? ''),
                    basename((string) ($trouble->fields['path'] ?? $part)), (string) ($trouble->fields['why'] ?? ''),
                ),
            };
        }
    }

    private static function below(string $folder, string $file): string
    {
        return '' === $file ? $folder : $folder.'/'.$file;
    }
}
