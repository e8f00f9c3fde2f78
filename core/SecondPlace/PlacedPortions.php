<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealBroken;
use Geschenk\Core\Seal\SealedFile;

/**
 * The portions of one copy: its files one behind the other, cut into pieces of one size, each sealed before it leaves.
 * They are named after what is in them, so that whoever goes on finds what is there already
 * (docs/formats/second-place.md).
 */
final class PlacedPortions
{
    /** Bytes of content in each but the last. */
    public const BYTES = 8_388_608;
    public const BEGINS = 'p-';

    private ?ScratchFolder $scratch = null;

    /** @param string $folder of the copy at the place */
    public function __construct(
        private readonly Place $place,
        private readonly string $folder,
        private readonly DataKey $key,
    ) {
    }

    public function nameOf(string $sha256): string
    {
        return self::BEGINS.$this->key->nameOf(self::of($sha256));
    }

    /** @return int bytes of one that lies there, with so many bytes of content */
    public static function sealedBytes(int $content): int
    {
        return SealedFile::bytesOf($content);
    }

    /**
     * Puts one there, and reads it back from there.
     *
     * @throws PlaceFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function put(string $content): void
    {
        $sha256 = hash('sha256', $content);
        $file = $this->file($sha256);
        $file->sealText($content);
        $stream = Disk::open($file->path, 'r');
        try {
            $this->place->put($this->path($sha256), $stream);
        } finally {
            fclose($stream);
        }
        $this->ensureWhole($sha256, strlen($content));
    }

    /**
     * @param int $bytes of content that it was put there with
     *
     * @throws PlaceFailure where it is not what was put there
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function ensureWhole(string $sha256, int $bytes): void
    {
        $file = $this->taken($sha256);
        $hash = hash_init('sha256');
        $read = 0;
        try {
            foreach ($file->pieces() as $piece) {
                hash_update($hash, $piece);
                $read += strlen($piece);
            }
        } catch (SealBroken) {
            throw $this->altered($sha256);
        }
        if ($read !== $bytes || hash_final($hash) !== $sha256) {
            throw $this->altered($sha256);
        }
    }

    /**
     * Takes one from there, to be read here.
     *
     * @throws PlaceFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function taken(string $sha256): SealedFile
    {
        $file = $this->file($sha256);
        PlacedFile::take($this->place, $this->path($sha256), $file->path);

        return $file;
    }

    public function altered(string $sha256): PlaceFailure
    {
        return PlaceFailure::altered($this->place->label(), $this->path($sha256));
    }

    private function path(string $sha256): string
    {
        return $this->folder.'/'.$this->nameOf($sha256);
    }

    /** One at a time: the one before is gone with the next. */
    private function file(string $sha256): SealedFile
    {
        $this->scratch ??= ScratchFolder::make(2 * self::BYTES);

        return new SealedFile($this->scratch->path.'/portion', $this->key, self::of($sha256));
    }

    private static function of(string $sha256): string
    {
        return 'portion '.$sha256;
    }
}
