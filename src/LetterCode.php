<?php

declare(strict_types=1);

namespace Geschenk\App;

/** Codes that people read from paper and type: base 32 without letters that are taken for digits, as Crockford does. */
final class LetterCode
{
    private const ALPHABET = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
    private const MISREAD = ['O' => '0', 'I' => '1', 'L' => '1'];

    /** @param int $letters five bits each, from the first of the bytes */
    public static function of(string $bytes, int $letters): string
    {
        $code = '';
        for ($n = 0, $bits = 0, $held = 0; strlen($code) < $letters; ++$n) {
            $held = (($held << 8) | ord($bytes[$n])) & 0xFFFF;
            for ($bits += 8; $bits >= 5 && strlen($code) < $letters; $bits -= 5) {
                $code .= self::ALPHABET[($held >> ($bits - 5)) & 31];
            }
        }

        return $code;
    }

    /** What was typed, without what groups it, as it was meant. */
    public static function read(string $typed): string
    {
        return strtr((string) preg_replace('/[^A-Z0-9]/', '', strtoupper($typed)), self::MISREAD);
    }
}
