<?php

declare(strict_types=1);

namespace Geschenk\App\Words;

use libphonenumber\NumberParseException;
use libphonenumber\PhoneNumberFormat;
use libphonenumber\PhoneNumberUtil;

/** Sizes and phone numbers as people read them; web/lib/format.ts shows sizes in the same way. */
final class Shown
{
    private const UNITS = ['kB', 'MB', 'GB', 'TB'];

    /** In decimal units, as phones show them. */
    public static function bytes(int $bytes, string $language): string
    {
        if (abs($bytes) < 1000) {
            return $bytes.' B';
        }
        $size = (float) $bytes;
        $unit = -1;
        do {
            $size /= 1000;
            ++$unit;
        } while ($size >= 999.5 && $unit < count(self::UNITS) - 1);
        $format = new \NumberFormatter($language, \NumberFormatter::DECIMAL);
        $digits = $size < 10 ? 1 : 0;
        $format->setAttribute(\NumberFormatter::FRACTION_DIGITS, $digits);

        return $format->format($size).' '.self::UNITS[$unit];
    }

    /** +447700900104 → +44 7700 900104; what is no number stays as it is. */
    public static function phoneNumber(string $told): string
    {
        try {
            $util = PhoneNumberUtil::getInstance();

            return $util->format($util->parse($told), PhoneNumberFormat::INTERNATIONAL);
        } catch (NumberParseException) {
            return mb_scrub($told);
        }
    }
}
