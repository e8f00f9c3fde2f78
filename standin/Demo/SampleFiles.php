<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Durable\Folder;
use Random\Randomizer;

/**
 * Makes real attachment files: JPEG pictures that decode, WAV recordings that play, PDF documents that open. A few
 * dozen are drawn; every further one gets its own comment, so that no two files are the same unless they are meant to
 * be.
 */
final class SampleFiles
{
    private const DRAWN = 48;

    /** @var list<array{bytes: string, preview: string, width: int, height: int}> */
    private array $pictures = [];
    /** @var list<array{samples: string, ms: int}> */
    private array $recordings = [];
    private int $number = 0;

    public function __construct(
        private readonly Randomizer $chance,
        private readonly string $folder,
        private readonly string $motif,
    ) {
        Folder::make($folder.'/pool');
    }

    public function photo(): Attachment
    {
        if (count($this->pictures) < self::DRAWN) {
            $this->pictures[] = $this->draw();
        }
        $picture = $this->pictures[$this->chance->getInt(0, count($this->pictures) - 1)];
        $comment = sprintf('picture %d', ++$this->number);
        // A COM segment right after the start of image, ITU-T T.81 B.2.4.5.
        $bytes = substr($picture['bytes'], 0, 2)."\xFF\xFE".pack(
            'n', strlen($comment) + 2,
        ).$comment.substr($picture['bytes'], 2);

        return $this->store(
            'jpg', 'image/jpeg', $bytes, null,
            ['width' => $picture['width'], 'height' => $picture['height'], 'preview' => $picture['preview']],
        );
    }

    public function voice(): Attachment
    {
        if (count($this->recordings) < self::DRAWN) {
            $this->recordings[] = $this->hum();
        }
        $recording = $this->recordings[$this->chance->getInt(0, count($this->recordings) - 1)];
        $comment = str_pad(sprintf('note %d', ++$this->number), 12);
        $info = 'LIST'.pack('V', 4 + 8 + strlen($comment)).'INFOICMT'.pack('V', strlen($comment)).$comment;
        $format = 'fmt '.pack('VvvVVvv', 16, 1, 1, 8000, 8000, 1, 8);
        $data = 'data'.pack('V', strlen($recording['samples'])).$recording['samples'];

        return $this->store(
            'wav', 'audio/wav', 'RIFF'.pack('V', 4 + strlen($format.$info.$data)).'WAVE'.$format.$info.$data, null,
            ['ms' => $recording['ms']],
        );
    }

    /** A film's head and no pictures in it; ISO/IEC 14496-12. */
    public function film(?string $name, int $ms): Attachment
    {
        $brand = pack('N', 24).'ftypmp42'.pack('N', 0).'mp42isom';
        $comment = sprintf('film %d', ++$this->number);
        $picture = $this->draw();

        return $this->store(
            'mp4', 'video/mp4', $brand.pack('N', 8 + strlen($comment)).'free'.$comment, $name,
            ['ms' => $ms, 'width' => 640, 'height' => 360, 'preview' => $picture['preview']],
        );
    }

    public function sound(string $name): Attachment
    {
        $voice = $this->voice();

        return new Attachment(
            $voice->path, $name, $voice->mediaType, $voice->bytes, $voice->sha256, $voice->presence, $voice->durationMs,
        );
    }

    public function drawing(string $mediaType): Attachment
    {
        $image = imagecreatetruecolor(160, 160);
        imagefilledrectangle($image, 0, 0, 159, 159, self::colour($image, 48, 0.1, 1.0));
        imagefilledellipse($image, 80, 80, 96, 96, self::colour($image, 38 + ++$this->number % 40, 0.7, 0.9));
        ob_start();
        'image/gif' === $mediaType ? imagegif($image) : imagepng($image);

        return $this->store(
            'image/gif' === $mediaType ? 'gif' : 'png', $mediaType, (string) ob_get_clean(), null,
            ['width' => 160, 'height' => 160],
        );
    }

    /** A small square picture for a conversation. */
    public function badge(): string
    {
        return $this->draw()['preview'];
    }

    public function document(string $name): Attachment
    {
        $lines = [$name, '', 'Sheet '.(++$this->number), 'Made up for the demonstration.'];

        return $this->store('pdf', 'application/pdf', self::pdf($lines), $name.'.pdf');
    }

    /** @param array{ms?: int, width?: int, height?: int, preview?: string} $shape */
    private function store(
        string $extension,
        string $type,
        string $bytes,
        ?string $name,
        array $shape = [],
    ): Attachment {
        $path = sprintf('pool/%06d.%s', $this->number, $extension);
        file_put_contents($this->folder.'/'.$path, $bytes);

        return new Attachment(
            $path, $name, $type, strlen($bytes), hash('sha256', $bytes), Presence::Present,
            $shape['ms'] ?? null, $shape['width'] ?? null, $shape['height'] ?? null, $shape['preview'] ?? null,
        );
    }

    /** @return array{bytes: string, preview: string, width: int, height: int} */
    private function draw(): array
    {
        [$width, $height] = $this->chance->getInt(0, 2) > 0 ? [640, 480] : [480, 640];
        $image = imagecreatetruecolor($width, $height) ?: throw new \RuntimeException('No picture could be made.');
        $hue = $this->chance->getInt(0, 360);
        for ($y = 0; $y < $height; ++$y) {
            imageline(
                $image, 0, $y, $width, $y,
                self::colour($image, $hue + (int) (40 * $y / $height), 0.35, 0.95 - 0.4 * $y / $height),
            );
        }
        $horizon = (int) ($height * $this->chance->getInt(45, 70) / 100);
        imagefilledrectangle(
            $image, 0, $horizon, $width, $height, self::colour($image, 'hex' === $this->motif ? 95 : 205, 0.4, 0.55),
        );
        imagefilledellipse(
            $image, $this->chance->getInt(40, $width - 40), $this->chance->getInt(30, $horizon), 70, 70,
            self::colour($image, 50, 0.3, 1.0),
        );
        $shapes = $this->chance->getInt(5, 12);
        for ($i = 0; $i < $shapes; ++$i) {
            $this->shape(
                $image, $this->chance->getInt(0, $width), $this->chance->getInt($horizon - 30, $height),
                $this->chance->getInt(18, 70),
            );
        }
        $small = imagescale($image, intdiv($width, 10), intdiv($height, 10)) ?: $image;

        return [
            'bytes' => self::jpeg($image, 68), 'preview' => self::jpeg($small, 50), 'width' => $width,
            'height' => $height,
        ];
    }

    private function shape(\GdImage $image, int $x, int $y, int $size): void
    {
        $colour = self::colour($image, $this->chance->getInt(20, 60), 0.7, $this->chance->getInt(50, 95) / 100);
        if ('hex' === $this->motif) {
            $points = [];
            for ($corner = 0; $corner < 6; ++$corner) {
                array_push(
                    $points, (int) ($x + $size * cos($corner * M_PI / 3)), (int) ($y + $size * sin($corner * M_PI / 3)),
                );
            }
            imagefilledpolygon($image, $points, $colour);
        } elseif ('boat' === $this->motif) {
            imagefilledpolygon(
                $image,
                [
                    $x - $size, $y, $x + $size, $y, $x + (int) ($size * 0.6), $y + (int) ($size * 0.4),
                    $x - (int) ($size * 0.6), $y + (int) ($size * 0.4),
                ],
                $colour,
            );
            imagefilledrectangle(
                $image, $x - (int) ($size * 0.3), $y - (int) ($size * 0.5), $x + (int) ($size * 0.3), $y, $colour,
            );
        } else {
            imagefilledrectangle($image, $x - $size, $y, $x + $size, $y + (int) ($size * 0.6), $colour);
            imagefilledellipse($image, $x, $y, $size * 2, (int) ($size * 0.5), self::colour($image, 340, 0.3, 0.95));
        }
    }

    /** @return array{samples: string, ms: int} 8 bit, 8 kHz, mono */
    private function hum(): array
    {
        $seconds = $this->chance->getInt(2, 7);
        $pitch = $this->chance->getInt(110, 330);
        // Pitch and swell are whole times a second: each second sounds like the first.
        $second = '';
        for ($i = 0; $i < 8000; ++$i) {
            $swell = 0.5 + 0.5 * sin(2 * M_PI * $i / 4000);
            $second .= chr((int) (128 + 70 * $swell * sin(2 * M_PI * $pitch * $i / 8000)));
        }

        return ['samples' => str_repeat($second, $seconds), 'ms' => $seconds * 1000];
    }

    /** @param list<string> $lines */
    private static function pdf(array $lines): string
    {
        $text = 'BT /F1 18 Tf 60 760 Td 26 TL ';
        foreach ($lines as $line) {
            $text .= '('.addcslashes((string) preg_replace('/[^\x20-\x7E]/', '-', $line), '()\\').') Tj T* ';
        }
        $objects = [
            '<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
            '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Resources << /Font << /F1 4 0 R >> >> /Contents 5 '
                .'0 R >>',
            '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>', '<< /Length '.strlen($text.'ET')
                ." >>\nstream\n{$text}ET\nendstream",
        ];
        $pdf = "%PDF-1.4\n";
        $offsets = [];
        foreach ($objects as $i => $object) {
            $offsets[] = strlen($pdf);
            $pdf .= ($i + 1)." 0 obj\n$object\nendobj\n";
        }
        $start = strlen($pdf);
        $pdf .= "xref\n0 6\n0000000000 65535 f \n";
        foreach ($offsets as $offset) {
            $pdf .= sprintf("%010d 00000 n \n", $offset);
        }

        return $pdf."trailer\n<< /Size 6 /Root 1 0 R >>\nstartxref\n$start\n%%EOF\n";
    }

    private static function jpeg(\GdImage $image, int $quality): string
    {
        ob_start();
        imagejpeg($image, null, $quality);

        return (string) ob_get_clean();
    }

    private static function colour(\GdImage $image, int $hue, float $saturation, float $value): int
    {
        $part = static fn (int $n): int => max(
            0,
            min(
                255,
                (int) (255 * ($value - $value * $saturation * max(
                    0.0, min(fmod($n + $hue / 60, 6), 4 - fmod($n + $hue / 60, 6), 1.0),
                ))),
            ),
        );

        return (int) imagecolorallocate($image, $part(5), $part(3), $part(1));
    }
}
