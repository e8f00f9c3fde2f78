<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Durable;

/**
 * A file name that every file system takes, recognisable as the one that the sender gave: composed Unicode, no
 * character that a system reserves, lower case, and short. The sender's own name stays in the database beside it.
 */
final class SafeName
{
    /** Bytes; with a running number and an ending before and after it, far below the 255 that file systems hold. */
    private const LIMIT = 80;

    /** @return string without an ending; may be empty */
    public static function of(?string $name): string
    {
        $name = mb_scrub((string) preg_replace('/\.[A-Za-z0-9]{1,8}$/', '', $name ?? ''), 'UTF-8');
        $composed = normalizer_normalize($name, \Normalizer::FORM_C);
        $plain = mb_strtolower(is_string($composed) ? $composed : $name, 'UTF-8');
        // Letters and digits of any script stay; everything else, path separators and reserved characters among it,
        // becomes one dash.
        $plain = trim((string) preg_replace('/[^\p{L}\p{M}\p{N}]+/u', '-', $plain), '-');

        return trim(mb_strcut($plain, 0, self::LIMIT, 'UTF-8'), '-');
    }
}
