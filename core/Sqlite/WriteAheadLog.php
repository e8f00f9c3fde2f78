<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

/**
 * Looks whether SQLite will read all of a write-ahead log. It stops silently at the first frame whose checksum is wrong,
 * and the newest messages would be missing without a word. Format: https://www.sqlite.org/fileformat2.html#walformat
 */
final class WriteAheadLog
{
    private const HEADER = 32;
    private const FRAME_HEADER = 24;
    private const MAGIC = 0x377F0682;

    /**
     * @return string|null what is wrong, or null when every transaction that was finished can be read
     */
    public static function damage(string $path): ?string
    {
        $log = @fopen($path, 'r');
        $header = false === $log ? '' : (string) fread($log, self::HEADER);
        if (false === $log || strlen($header) < self::HEADER) {
            return null;
        }
        $numbers = self::numbers($header, true);
        if (self::MAGIC !== ($numbers[0] & ~1)) {
            return 'the write-ahead log does not begin like one';
        }
        $bigEndian = 1 === ($numbers[0] & 1);
        $pageSize = $numbers[2];
        if ($pageSize < 512 || $pageSize > 65_536) {
            return 'the head of the write-ahead log is damaged';
        }
        $salts = substr($header, 16, 8);
        $sum = self::checksum(substr($header, 0, 24), $bigEndian, [0, 0]);
        if ($sum !== [$numbers[6], $numbers[7]]) {
            return 'the head of the write-ahead log is damaged';
        }
        $wrongAt = null;
        for ($frame = 1; self::FRAME_HEADER === strlen($head = (string) fread($log, self::FRAME_HEADER)); ++$frame) {
            $page = (string) fread($log, $pageSize);
            if (strlen($page) < $pageSize || substr($head, 8, 8) !== $salts) {
                // The rest is from before the log was begun anew, or a frame that was never finished.
                break;
            }
            $fields = self::numbers($head, true);
            if (null === $wrongAt) {
                $sum = self::checksum(substr($head, 0, 8).$page, $bigEndian, $sum);
                $wrongAt = $sum === [$fields[4], $fields[5]] ? null : $frame;
            }
            // A frame with a database size ends a transaction: one that had been finished can't be read any more.
            if (null !== $wrongAt && 0 !== $fields[1]) {
                fclose($log);

                return sprintf('frame %d of the write-ahead log is damaged, and the newest messages stand behind it', $wrongAt);
            }
        }
        fclose($log);

        return null;
    }

    /**
     * Writes the pages of finished transactions into the database, as far as they can be read. After a broken page the
     * checksums are taken up again from what the next ones were computed with, so that one page does not cost the rest.
     *
     * @return int pages that can't be read
     */
    public static function apply(string $path, string $database): int
    {
        $log = @fopen($path, 'r');
        $header = false === $log ? '' : (string) fread($log, self::HEADER);
        if (false === $log || strlen($header) < self::HEADER) {
            return 0;
        }
        $numbers = self::numbers($header, true);
        $pageSize = $numbers[2];
        $target = fopen($database, 'r+');
        if (false === $target || self::MAGIC !== ($numbers[0] & ~1) || $pageSize < 512 || $pageSize > 65_536) {
            fclose($log);

            return max(1, intdiv((int) filesize($path) - self::HEADER, self::FRAME_HEADER + max(512, min(65_536, $pageSize))));
        }
        $bigEndian = 1 === ($numbers[0] & 1);
        $sum = [$numbers[6], $numbers[7]];
        $unreadable = 0;
        /** @var array<int, int> $waiting where the newest copy of a page is, of the transaction that is not finished yet */
        $waiting = [];
        for ($at = self::HEADER; self::FRAME_HEADER === strlen($head = (string) fread($log, self::FRAME_HEADER)); $at += self::FRAME_HEADER + $pageSize) {
            $page = (string) fread($log, $pageSize);
            if (strlen($page) < $pageSize || substr($head, 8, 8) !== substr($header, 16, 8)) {
                break;
            }
            $fields = self::numbers($head, true);
            $isWhole = self::checksum(substr($head, 0, 8).$page, $bigEndian, $sum) === [$fields[4], $fields[5]];
            $sum = [$fields[4], $fields[5]];
            if (!$isWhole) {
                ++$unreadable;
            } elseif ($fields[0] > 0) {
                $waiting[$fields[0]] = $at + self::FRAME_HEADER;
            }
            if (0 !== $fields[1]) {
                foreach ($waiting as $number => $from) {
                    fseek($target, ($number - 1) * $pageSize);
                    fwrite($target, (string) stream_get_contents($log, $pageSize, $from));
                }
                $waiting = [];
                fseek($log, $at + self::FRAME_HEADER + $pageSize);
            }
        }
        fclose($log);
        fclose($target);

        return $unreadable;
    }

    /**
     * @param array{int, int} $sum
     *
     * @return array{int, int}
     */
    private static function checksum(string $bytes, bool $bigEndian, array $sum): array
    {
        [$a, $b] = $sum;
        $words = self::numbers($bytes, $bigEndian);
        for ($i = 0, $count = count($words); $i + 1 < $count; $i += 2) {
            $a = ($a + $words[$i] + $b) & 0xFFFFFFFF;
            $b = ($b + $words[$i + 1] + $a) & 0xFFFFFFFF;
        }

        return [$a, $b];
    }

    /** @return list<int> unsigned 32-bit numbers */
    private static function numbers(string $bytes, bool $bigEndian): array
    {
        /** @var array<int, int>|false $numbers */
        $numbers = unpack($bigEndian ? 'N*' : 'V*', $bytes);

        return array_values(false === $numbers ? [] : $numbers);
    }
}
