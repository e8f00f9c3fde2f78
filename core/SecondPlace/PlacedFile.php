<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;

/** One file between here and the place. Whether it is what it should be is told by whoever opens it. */
final class PlacedFile
{
    private const PIECE = 65_536;

    /**
     * @param string $path at the place
     * @param string $to   full path here
     *
     * @throws PlaceFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public static function take(Place $place, string $path, string $to): void
    {
        $from = $place->open($path);
        $target = Disk::open($to, 'w');
        try {
            // What breaks off is too short, which its seal shows.
            while ('' !== ($piece = self::read($from, $place, $path))) {
                Disk::write($target, $piece, $to);
            }
            Disk::close($target, $to);
        } finally {
            fclose($from);
            if (is_resource($target)) {
                fclose($target);
            }
        }
    }

    /**
     * @param resource $from
     *
     * @throws PlaceFailure where nothing comes, and that is not its end
     */
    private static function read(mixed $from, Place $place, string $path): string
    {
        try {
            return Disk::read($from, self::PIECE, $path);
        } catch (DiskFailure $failure) {
            throw PlaceFailure::at($place->label(), 'read', $path, $failure);
        }
    }

    /**
     * Puts a short text there, and reads it back.
     *
     * @throws PlaceFailure
     */
    public static function putText(Place $place, string $path, string $text): void
    {
        $stream = fopen('php://memory', 'w+') ?: throw new \LogicException('There is always memory for a text.');
        fwrite($stream, $text);
        rewind($stream);
        try {
            $place->put($path, $stream);
        } finally {
            fclose($stream);
        }
        self::text($place, $path, strlen($text) + 1) === $text
            ?: throw PlaceFailure::altered($place->label(), $path);
    }

    /**
     * @param int $most bytes of it that are read
     *
     * @throws PlaceFailure
     */
    public static function text(Place $place, string $path, int $most): string
    {
        $stream = $place->open($path);
        try {
            $text = Disk::quietly(static fn () => stream_get_contents($stream, $most));
        } finally {
            fclose($stream);
        }

        return is_string($text) ? $text : throw PlaceFailure::at($place->label(), 'read', $path);
    }
}
