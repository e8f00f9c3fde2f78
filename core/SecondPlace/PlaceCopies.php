<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealBroken;

/**
 * Copies of folders at the second place, each under a name: put there so that one that is there stays whole until the
 * next is, read back from there, brought back from there (docs/formats/second-place.md).
 */
final readonly class PlaceCopies
{
    public const FOLDER = 'copies';
    private const LIST = 'list-';
    /** What is being brought back lies under this, beside its folder. */
    private const COMING = '.coming';
    private const PIECE = 1_048_576;

    /** @param int $portion bytes of each but the last */
    public function __construct(private Place $place, private int $portion = PlacedPortions::BYTES)
    {
    }

    /**
     * @return list<string> names of all that has a folder there, whole or not
     *
     * @throws PlaceFailure
     */
    public function names(): array
    {
        return $this->place->folders(self::FOLDER);
    }

    /**
     * Puts a folder there as it lies, or what of it is not there yet. What was there under its name before goes once
     * this is whole and was read back.
     *
     * @param \Closure(): bool|null $isStill whether the folder lies as it lay before, asked when all was read; where it
     *                                       does not, what was there stays, and the next goes on with this
     *
     * @throws PlaceFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function put(
        string $name,
        string $folder,
        DataKey $key,
        Progress $progress = new NoProgress(),
        ?\Closure $isStill = null,
    ): Placed {
        $there = $this->place->files(self::folder($name));
        $portions = $this->portions($name, $key);
        // Those of a list that stands were read back when it was put there.
        $known = $this->listed($name, $key, $there);
        $scratch = ScratchFolder::make();
        $list = Disk::open($scratch->path.'/lines', 'w');
        $portion = '';
        $stays = [];
        $files = $bytes = $new = 0;
        $flush = function () use (&$portion, &$stays, &$new, $list, $there, $known, $portions, $progress): void {
            $sha256 = hash('sha256', $portion);
            $name = $portions->nameOf($sha256);
            $length = strlen($portion);
            if (!isset($stays[$name])) {
                $isThere = PlacedPortions::sealedBytes($length) === ($there[$name] ?? null);
                if (!$isThere || (!isset($known[$sha256]) && !self::isWhole($portions, $sha256, $length))) {
                    $portions->put($portion);
                    $new += $length;
                }
                $stays[$name] = true;
            }
            self::line($list, ['portion' => $sha256, 'bytes' => $length]);
            $portion = '';
            $progress->advance(0, $length);
        };
        foreach (Folder::files($folder) as $path) {
            $stream = Disk::open($folder.'/'.$path, 'r');
            $hash = hash_init('sha256');
            $ofFile = 0;
            try {
                while ('' !== ($piece = Disk::read(
                    $stream, min(self::PIECE, $this->portion - strlen($portion)), $path,
                ))) {
                    hash_update($hash, $piece);
                    $ofFile += strlen($piece);
                    $portion .= $piece;
                    $this->portion > strlen($portion) ?: $flush();
                }
            } finally {
                fclose($stream);
            }
            self::line($list, ['file' => PlacedList::named($path), 'bytes' => $ofFile, 'sha256' => hash_final($hash)]);
            ++$files;
            $bytes += $ofFile;
            $progress->advance(1);
        }
        '' === $portion ?: $flush();
        self::line($list, ['end' => 1, 'files' => $files, 'bytes' => $bytes]);
        Disk::close($list, $scratch->path.'/lines');
        $isSame = null === $isStill || $isStill();
        if ($isSame) {
            $this->putList($name, $key, $scratch, $there, $stays);
        }

        return new Placed($files, $bytes, $new, $isSame);
    }

    /**
     * Reads one back from there, to the last byte.
     *
     * @throws PlaceFailure where it is not whole, among others
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function readBack(string $name, DataKey $key, Progress $progress = new NoProgress()): void
    {
        $portions = $this->portions($name, $key);
        foreach ($this->opened($name, fn (): array => $this->newest($name, $key)->portions()) as $one) {
            $portions->ensureWhole($one['portion'], $one['bytes']);
            $progress->advance(0, $one['bytes']);
        }
    }

    /**
     * Brings a folder back as it was put there: what of it lies here as it should is left as it is, and so is what
     * does not belong to it. That all of it is on the disk is waited for by the caller.
     *
     * @param \Closure(string): bool|null $isWanted told a path; without it all of them are
     *
     * @return list<string> paths of the files that were brought
     *
     * @throws PlaceFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function bring(
        string $name,
        DataKey $key,
        string $folder,
        Progress $progress = new NoProgress(),
        ?\Closure $isWanted = null,
    ): array {
        $list = $this->newest($name, $key);
        $reading = new PlacedReading($this->portions($name, $key), $this->opened($name, $list->portions(...)));
        $coming = Folder::make($folder).self::COMING;
        $brought = [];
        try {
            foreach ($this->opened($name, $list->files(...)) as $file) {
                $path = $folder.'/'.$file['file'];
                $isWanting = (null === $isWanted || $isWanted($file['file']))
                    && !self::isThere($path, $file['bytes'], $file['sha256']);
                if ($isWanting) {
                    $this->write($reading, $file['bytes'], $coming);
                    if (Disk::sha256($coming) !== $file['sha256']) {
                        throw PlaceFailure::altered($this->place->label(), self::folder($name));
                    }
                    is_link($path) || is_dir($path) ? Folder::discard($path) : Folder::make(dirname($path));
                    Disk::move($coming, $path);
                    $brought[] = $file['file'];
                } else {
                    $reading->skip($file['bytes']);
                }
                $progress->advance(1, $file['bytes']);
            }
        } finally {
            Folder::remove($coming);
        }

        return $brought;
    }

    /**
     * @return list<string> paths of the files of a copy
     *
     * @throws PlaceFailure
     */
    public function paths(string $name, DataKey $key): array
    {
        $list = $this->newest($name, $key);

        return $this->opened($name, static fn (): array => array_column(
            iterator_to_array($list->files(), false), 'file',
        ));
    }

    /** @throws PlaceFailure */
    public function remove(string $name): void
    {
        $this->place->removeFolder(self::folder($name));
    }

    /**
     * @param array<string, int>  $there what lay there before
     * @param array<string, true> $stays names of its portions
     */
    private function putList(string $name, DataKey $key, ScratchFolder $scratch, array $there, array $stays): void
    {
        $lists = self::lists($there);
        $called = self::LIST.sprintf('%010d', ([] === $lists ? 0 : (int) substr(end($lists), strlen(self::LIST))) + 1);
        $file = (new PlacedList($scratch, $key, $name))->file();
        $lines = Disk::open($scratch->path.'/lines', 'r');
        $file->seal($lines);
        fclose($lines);
        $stream = Disk::open($file->path, 'r');
        try {
            $this->place->put(self::folder($name).'/'.$called, $stream);
        } finally {
            fclose($stream);
        }
        PlacedFile::take($this->place, self::folder($name).'/'.$called, $scratch->path.'/back');
        if (Disk::sha256($scratch->path.'/back') !== Disk::sha256($file->path)) {
            throw PlaceFailure::altered($this->place->label(), self::folder($name).'/'.$called);
        }
        // What it was before goes from its list on: a kill in between leaves one that is whole.
        foreach (array_reverse($lists) as $before) {
            $this->place->remove(self::folder($name).'/'.$before);
        }
        foreach (array_keys($there) as $one) {
            if (str_starts_with((string) $one, PlacedPortions::BEGINS) && !isset($stays[$one])) {
                $this->place->remove(self::folder($name).'/'.$one);
            }
        }
    }

    private function newest(string $name, DataKey $key): PlacedList
    {
        $lists = self::lists($this->place->files(self::folder($name)));
        foreach (array_reverse($lists) as $called) {
            $list = $this->list($name, $key, $called);
            if (null !== $list) {
                return $list;
            }
        }
        throw [] === $lists
            ? PlaceFailure::without($this->place->label(), self::folder($name))
            : PlaceFailure::altered($this->place->label(), self::folder($name));
    }

    /** @return PlacedList|null null where it does not open to its end: of one that was killed while it was put there */
    private function list(string $name, DataKey $key, string $called): ?PlacedList
    {
        $scratch = ScratchFolder::make();
        $list = new PlacedList($scratch, $key, $name);
        PlacedFile::take($this->place, self::folder($name).'/'.$called, $list->file()->path);
        try {
            foreach ($list->files() as $_) {
                // To its end.
            }
        } catch (SealBroken) {
            return null;
        }

        return $list;
    }

    /**
     * @param array<string, int> $there
     *
     * @return array<string, true> hashes of the portions that the newest list there tells of
     */
    private function listed(string $name, DataKey $key, array $there): array
    {
        $lists = self::lists($there);
        $list = [] === $lists ? null : $this->list($name, $key, end($lists));

        return null === $list ? [] : array_fill_keys(array_column($list->portions(), 'portion'), true);
    }

    /**
     * @param array<string, int> $there
     *
     * @return list<string> names, the oldest first
     */
    private static function lists(array $there): array
    {
        $lists = array_values(array_filter(
            array_map(strval(...), array_keys($there)),
            static fn (string $name): bool => 1 === preg_match('/^'.self::LIST.'\d{10}$/D', $name),
        ));
        sort($lists);

        return $lists;
    }

    /** @param array<string, string|int> $line */
    private static function line(mixed $list, array $line): void
    {
        is_resource($list) || throw new \LogicException('It is open.');
        Disk::write($list, json_encode($line, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES)."\n", 'list');
    }

    private static function isWhole(PlacedPortions $portions, string $sha256, int $bytes): bool
    {
        try {
            $portions->ensureWhole($sha256, $bytes);

            return true;
        } catch (PlaceFailure $failure) {
            $failure->isOfOneCopy() ?: throw $failure;

            return false;
        }
    }

    private static function isThere(string $path, int $bytes, string $sha256): bool
    {
        clearstatcache(true, $path);
        try {
            return is_file($path) && !is_link($path) && filesize($path) === $bytes && Disk::sha256($path) === $sha256;
        } catch (DiskFailure) {
            // On a worn disk it can't be read: so it is not there.
            return false;
        }
    }

    private function write(PlacedReading $reading, int $bytes, string $path): void
    {
        $stream = Disk::open($path, 'w');
        try {
            for ($left = $bytes; $left > 0; $left -= strlen($piece)) {
                $piece = $reading->next(min($left, self::PIECE));
                Disk::write($stream, $piece, $path);
            }
            Disk::close($stream, $path);
        } finally {
            if (is_resource($stream)) {
                fclose($stream);
            }
        }
    }

    /**
     * What does not open was changed there.
     *
     * @template T
     *
     * @param callable(): T $read
     *
     * @return T
     */
    private function opened(string $name, callable $read): mixed
    {
        try {
            return $read();
        } catch (SealBroken) {
            throw PlaceFailure::altered($this->place->label(), self::folder($name));
        }
    }

    private function portions(string $name, DataKey $key): PlacedPortions
    {
        return new PlacedPortions($this->place, self::folder($name), $key);
    }

    private static function folder(string $name): string
    {
        return self::FOLDER.'/'.$name;
    }
}
