<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;

/** One file between here and the place. Whether it is what it should be is told by whoever opens it. */
final class PlacedFile
{
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
            while (!feof($from)) {
                $piece = Disk::quietly(static fn () => fread($from, 65_536));
                if (!is_string($piece)) {
                    throw PlaceFailure::at($place->label(), 'read', $path);
                }
                Disk::write($target, $piece, $to);
                if ('' === $piece && !feof($from) && stream_get_meta_data($from)['timed_out']) {
                    throw PlaceFailure::at($place->label(), 'read', $path);
                }
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
