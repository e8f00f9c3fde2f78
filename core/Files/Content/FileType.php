<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

/** Whether a file begins as its media type says; only types with a fixed beginning are judged. */
final class FileType
{
    /** How many bytes contradicts() looks at. */
    public const HEAD = 16;

    private const BEGINNINGS = [
        'image/jpeg' => '/^\xFF\xD8\xFF/', 'image/png' => '/^\x89PNG\r\n\x1A\n/', 'image/gif' => '/^GIF8[79]a/',
        'image/webp' => '/^RIFF.{4}WEBP/s', 'application/pdf' => '/^%PDF-/',
        'audio/wav' => '/^RIFF.{4}WAVE/s', 'audio/ogg' => '/^OggS/', 'video/mp4' => '/^.{4}ftyp/s',
        'application/zip' => '/^PK(?:\x03\x04|\x05\x06)/',
    ];

    public static function contradicts(string $mediaType, string $head): bool
    {
        $beginning = self::BEGINNINGS[strtolower($mediaType)] ?? null;

        return null !== $beginning && 1 !== preg_match($beginning, $head);
    }
}
