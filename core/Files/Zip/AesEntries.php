<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Zip;

/**
 * Whether what a ZIP holds under a password (AES, AE-1 and AE-2) is as it was put there: each such file ends with a
 * code over what is locked. The library that unlocks them asks for it only where it reads beyond their end, and then
 * takes the absence of another sum for an error.
 */
final class AesEntries
{
    private const END = "PK\x05\x06";
    private const END_64_AT = "PK\x06\x07";
    private const END_64 = "PK\x06\x06";
    private const ENTRY = "PK\x01\x02";
    private const LOCAL = "PK\x03\x04";
    /** Bytes from the end within which that of the archive is found: its own and a comment's. */
    private const TAIL = 65_557;
    private const NONE = 0xFFFFFFFF;
    private const ITERATIONS = 1_000;
    /** Bytes of the code, of what tells a wrong password at once, and that are read at once. */
    private const CODE = 10;
    private const CHECK = 2;
    private const PIECE = 1_048_576;
    /** Bytes of a key by the library's name of what an entry is locked with; half as many are drawn for each. */
    private const KEYS = [
        \ZipArchive::EM_AES_128 => 16, \ZipArchive::EM_AES_192 => 24, \ZipArchive::EM_AES_256 => 32,
    ];

    /** @var list<int>|null where each begins, in the order of the entries */
    private ?array $begins = null;

    public function __construct(private readonly string $path)
    {
    }

    public static function areMeantBy(int $method): bool
    {
        return isset(self::KEYS[$method]);
    }

    /**
     * @param int $number of the entry
     * @param int $method as the library names it
     * @param int $packed bytes that it has in the archive
     *
     * @return bool false as well where it is not where it is said to be
     */
    public function isWhole(int $number, int $method, int $packed, #[\SensitiveParameter] string $password): bool
    {
        $length = self::KEYS[$method] ?? throw new \LogicException('It is locked otherwise.');
        $salt = intdiv($length, 2);
        $locked = $packed - $salt - self::CHECK - self::CODE;
        $file = @fopen($this->path, 'r');
        $this->begins ??= false === $file ? [] : $this->begins($file);
        $begin = $this->begins[$number] ?? null;
        if (false === $file || null === $begin || $locked < 0) {
            return false;
        }
        try {
            $head = self::read($file, $begin, 30);
            if (!str_starts_with($head, self::LOCAL) || 30 !== strlen($head)) {
                return false;
            }
            $data = $begin + 30 + self::number('v', $head, 26) + self::number('v', $head, 28);
            $keys = hash_pbkdf2(
                'sha1', $password, self::read($file, $data, $salt), self::ITERATIONS, 2 * $length + self::CHECK, true,
            );
            $check = self::read($file, $data + $salt, self::CHECK);
            $code = hash_init('sha1', \HASH_HMAC, substr($keys, $length, $length));
            for ($done = 0; $done < $locked; $done += strlen($piece)) {
                $piece = (string) fread($file, max(1, min(self::PIECE, $locked - $done)));
                if ('' === $piece) {
                    return false;
                }
                hash_update($code, $piece);
            }
            $told = (string) fread($file, self::CODE);

            return hash_equals(substr($keys, -self::CHECK), $check)
                && hash_equals(substr(hash_final($code, true), 0, self::CODE), $told);
        } finally {
            fclose($file);
        }
    }

    /**
     * By the list at its end (APPNOTE 4.3.12 and 4.3.14 to 4.3.16).
     *
     * @param resource $file
     *
     * @return list<int>
     */
    private function begins(mixed $file): array
    {
        $size = (int) filesize($this->path);
        $from = max(0, $size - self::TAIL);
        $tail = self::read($file, $from, $size - $from);
        $end = strrpos($tail, self::END);
        if (false === $end || strlen($tail) < $end + 22) {
            return [];
        }
        $count = self::number('v', $tail, $end + 10);
        $at = self::number('V', $tail, $end + 16);
        $has64 = $end >= 20 && self::END_64_AT === substr($tail, $end - 20, 4);
        if ($has64) {
            $head = self::read($file, self::number('P', $tail, $end - 12), 56);
            if (56 !== strlen($head) || !str_starts_with($head, self::END_64)) {
                return [];
            }
            $count = self::number('P', $head, 32);
            $at = self::number('P', $head, 48);
        }
        $begins = [];
        for ($n = 0; $n < min($count, Unzipping::MOST); ++$n) {
            $head = self::read($file, $at, 46);
            if (46 !== strlen($head) || !str_starts_with($head, self::ENTRY)) {
                return [];
            }
            $name = self::number('v', $head, 28);
            $extra = self::number('v', $head, 30);
            $begin = self::number('V', $head, 42);
            $begins[] = self::NONE === $begin
                ? self::longBegin($head, self::read($file, $at + 46 + $name, $extra))
                : $begin;
            $at += 46 + $name + $extra + self::number('v', $head, 32);
        }

        return $begins;
    }

    /** Where one begins that is behind the first four gigabytes (APPNOTE 4.5.3): what is too long stands in order. */
    private static function longBegin(string $head, string $extra): int
    {
        for ($at = 0; $at + 4 <= strlen($extra); $at += 4 + self::number('v', $extra, $at + 2)) {
            if (1 === self::number('v', $extra, $at)) {
                $before = (int) (self::NONE === self::number('V', $head, 24))
                    + (int) (self::NONE === self::number('V', $head, 20));

                return self::number('P', $extra, $at + 4 + 8 * $before);
            }
        }

        return self::NONE;
    }

    /** @param resource $file */
    private static function read(mixed $file, int $at, int $length): string
    {
        return $length > 0 && 0 === fseek($file, $at) ? (string) fread($file, $length) : '';
    }

    /** @param string $format of unpack(): one number without a sign; 0 where it is cut */
    private static function number(string $format, string $bytes, int $at): int
    {
        $length = ['v' => 2, 'V' => 4, 'P' => 8][$format] ?? 0;
        $told = $at >= 0 && strlen($bytes) >= $at + $length ? unpack($format, $bytes, $at) : false;
        $number = false === $told ? 0 : $told[1] ?? 0;

        return is_int($number) ? $number : 0;
    }
}
