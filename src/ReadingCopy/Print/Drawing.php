<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Print;

use Geschenk\Core\Messenger\ReadingLimits;

/** The process that draws a picture anew: small, as it is held, on white. */
final class Drawing
{
    /** Pixels of the longer side. */
    private const SIDE = 560;
    private const QUALITY = 72;
    /** Pixels of what is drawn: four bytes each, and what turning it takes. */
    private const PIXELS = 40_000_000;
    private const TYPES = [\IMAGETYPE_JPEG, \IMAGETYPE_PNG, \IMAGETYPE_GIF, \IMAGETYPE_WEBP];
    /** Degrees by which it is turned to the left, and whether it is mirrored then, by its Orientation (EXIF 2.32). */
    private const HELD = [
        2 => [0, true], 3 => [180, false], 4 => [180, true], 5 => [270, true], 6 => [270, false], 7 => [90, true],
        8 => [90, false],
    ];

    /**
     * @param resource $from
     * @param resource $to
     *
     * @return int exit code: 1 where it is none that could be drawn
     */
    public static function run(mixed $from, mixed $to): int
    {
        (new ReadingLimits(20, 30, 900_000_000, 10_000_000))->impose();
        $picture = (string) stream_get_contents($from, SmallPictures::BYTES);
        $size = @getimagesizefromstring($picture);
        if (false === $size || !in_array($size[2], self::TYPES, true) || $size[0] * $size[1] > self::PIXELS) {
            return 1;
        }
        $image = @imagecreatefromstring($picture);
        if (false === $image) {
            return 1;
        }
        $small = self::held(self::small($image), \IMAGETYPE_JPEG === $size[2] ? self::orientation($picture) : 1);

        return imagejpeg($small, $to, self::QUALITY) ? 0 : 1;
    }

    private static function small(\GdImage $image): \GdImage
    {
        $share = min(1.0, self::SIDE / max(imagesx($image), imagesy($image)));
        $width = max(1, (int) round(imagesx($image) * $share));
        $height = max(1, (int) round(imagesy($image) * $share));
        $small = imagecreatetruecolor($width, $height);
        if (false === $small) {
            throw new \RuntimeException('There is no room for a small picture.');
        }
        imagefill($small, 0, 0, (int) imagecolorallocate($small, 255, 255, 255));
        imagecopyresampled($small, $image, 0, 0, 0, 0, $width, $height, imagesx($image), imagesy($image));

        return $small;
    }

    private static function held(\GdImage $image, int $orientation): \GdImage
    {
        [$degrees, $isMirrored] = self::HELD[$orientation] ?? [0, false];
        $turned = 0 === $degrees ? $image : imagerotate($image, $degrees, 0);
        $turned = false === $turned ? $image : $turned;
        if ($isMirrored) {
            imageflip($turned, \IMG_FLIP_HORIZONTAL);
        }

        return $turned;
    }

    private static function orientation(string $picture): int
    {
        $stream = fopen('php://memory', 'w+');
        if (false === $stream || !function_exists('exif_read_data')) {
            return 1;
        }
        fwrite($stream, $picture);
        rewind($stream);
        $told = @exif_read_data($stream);
        $orientation = is_array($told) ? $told['Orientation'] ?? 1 : 1;

        return is_int($orientation) ? $orientation : 1;
    }
}
