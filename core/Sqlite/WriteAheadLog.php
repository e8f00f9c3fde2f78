<?php

declare(strict_types=1);

namespace Geschenk\Core\Sqlite;

use Geschenk\Core\Files\Durable\Disk;

/**
 * Brings a write-ahead log into its database. SQLite stops silently at the first frame that is not right, and the
 * newest messages would be missing without a word: here each frame is judged by itself. A frame belongs to the log when
 * it carries its salts, or when its checksum goes on from the frame before; frames of the log's former life carry older
 * salts and end it. Format: https://www.sqlite.org/fileformat2.html#walformat
 */
final class WriteAheadLog
{
    private const HEADER = 32;
    private const FRAME_HEADER = 24;
    private const MAGIC = 0x377F0682;
    /** How often a log is begun anew at most, for its former life to be believed: the first salt counts that. */
    private const FORMER_LIVES = 1_000_000;

    private const OURS = 'ours';
    private const FORMER = 'former';
    private const BROKEN = 'broken';

    /** @var resource */
    private mixed $log;
    private int $pageSize;
    private bool $bigEndian;
    private string $salts;
    /** @var array{int, int}|null checksum of the frame before; null where nobody knows it */
    private ?array $sum;
    private int $frames;
    private bool $isHeadWhole;

    private function __construct(private readonly string $path, int $pageSize)
    {
        $this->log = Disk::open($path, 'r');
        $header = Disk::read($this->log, self::HEADER, $path);
        $numbers = self::numbers(str_pad($header, self::HEADER, "\0"), true);
        $this->pageSize = $pageSize;
        $this->frames = intdiv(max(0, (int) filesize($path) - self::HEADER), self::FRAME_HEADER + $pageSize);
        $this->bigEndian = 1 === ($numbers[0] & 1);
        $this->salts = substr($header, 16, 8);
        $this->sum = [$numbers[6], $numbers[7]];
        $this->isHeadWhole = self::MAGIC === ($numbers[0] & ~1) && $numbers[2] === $pageSize && self::checksum(
            substr($header, 0, 24), $this->bigEndian, [0, 0],
        ) === $this->sum;
        if (!$this->isHeadWhole) {
            $this->guessHead();
        }
    }

    /**
     * Writes the pages of finished transactions into the database.
     *
     * @param string $path     of the log; nothing happens where there is none
     * @param string $database a copy that nobody else has open
     * @param int    $pageSize of the database, bytes
     */
    public static function apply(string $path, string $database, int $pageSize): LogReading
    {
        clearstatcache(true, $path);
        if (!is_file($path) || 0 === filesize($path)) {
            return new LogReading();
        }
        if (filesize($path) < self::HEADER) {
            return new LogReading(isOpen: true);
        }

        return (new self($path, $pageSize))->bringIn($database);
    }

    public function __destruct()
    {
        fclose($this->log);
    }

    private function bringIn(string $database): LogReading
    {
        $target = Disk::open($database, 'r+');
        $unreadable = $mended = $pages = 0;
        $isBehindDamage = !$this->isHeadWhole;
        /**
         * @var array<int, int> $waiting where the newest copy of a page is, of the transaction that is not finished yet
         */
        $waiting = [];
        $last = $this->lastOfOurs();
        $tail = $this->brokenTail($last);
        for ($n = 0; $n <= $last; ++$n) {
            [$head, $page] = $this->frame($n);
            $fields = self::numbers($head, true);
            $isWhole = self::OURS === $this->judge($head, $page, $this->sum);
            $this->sum = 6 === count($fields) ? [$fields[4], $fields[5]] : null;
            if (!$isWhole) {
                ++$unreadable;
                $isBehindDamage = true;
            } else {
                $mended += $isBehindDamage ? 1 : 0;
                $waiting[$fields[0]] = self::HEADER + $n * (self::FRAME_HEADER + $this->pageSize) + self::FRAME_HEADER;
            }
            // A frame with a database size ends a transaction.
            if ($isWhole && 0 !== $fields[1]) {
                foreach ($waiting as $number => $from) {
                    fseek($this->log, $from);
                    fseek($target, ($number - 1) * $this->pageSize);
                    Disk::write($target, Disk::read($this->log, $this->pageSize, $this->path), $database);
                }
                $waiting = [];
                $pages = $fields[1];
            }
        }
        if ($pages > 0) {
            self::setPages($target, $database, $pages);
        }
        fclose($target);

        return new LogReading(
            $unreadable + $tail, $mended,
            [] !== $waiting
                || 0 !== ((int) filesize($this->path) - self::HEADER) % (self::FRAME_HEADER + $this->pageSize),
        );
    }

    /** @return array{string, string} head and page; shorter at the end of the file */
    private function frame(int $n): array
    {
        fseek($this->log, self::HEADER + $n * (self::FRAME_HEADER + $this->pageSize));

        return [
            Disk::read($this->log, self::FRAME_HEADER, $this->path),
            Disk::read($this->log, $this->pageSize, $this->path),
        ];
    }

    /** @param array{int, int}|null $sum of the frame before */
    private function judge(string $head, string $page, ?array $sum): string
    {
        if (strlen($head) < self::FRAME_HEADER || strlen($page) < $this->pageSize) {
            return self::BROKEN;
        }
        $fields = self::numbers($head, true);
        $salts = substr($head, 8, 8);
        if (null !== $sum && self::checksum(
            substr($head, 0, 8).$page, $this->bigEndian, $sum,
        ) === [$fields[4], $fields[5]]) {
            return $fields[0] > 0 ? self::OURS : self::BROKEN;
        }
        if ($salts !== $this->salts && $this->isFormer($salts)) {
            return self::FORMER;
        }

        return self::BROKEN;
    }

    /** The number of the last frame that carries the log's salts, or goes on from one that does; -1 for none. */
    private function lastOfOurs(): int
    {
        $last = -1;
        $sum = $this->sum;
        for ($n = 0; $n < $this->frames; ++$n) {
            [$head, $page] = $this->frame($n);
            if (strlen($head) < self::FRAME_HEADER) {
                break;
            }
            if (substr($head, 8, 8) === $this->salts
                || ($n === $last + 1 && self::OURS === $this->judge($head, $page, $sum))) {
                $last = $n;
            }
            $fields = self::numbers($head, true);
            $sum = [$fields[4], $fields[5]];
        }

        return $last;
    }

    /** How many frames behind the last one of ours are neither of a former life nor anything that a log holds. */
    private function brokenTail(int $last): int
    {
        $broken = 0;
        for ($n = $last + 1; $n < $this->frames; ++$n) {
            [$head] = $this->frame($n);
            if (self::FRAME_HEADER === strlen($head) && $this->isFormer(substr($head, 8, 8))) {
                // From here on it is the former life's.
                break;
            }
            ++$broken;
        }

        return $broken;
    }

    /** The first salt goes up by one with every life of a log, the second is new each time. */
    private function isFormer(string $salts): bool
    {
        $lives = (self::numbers($this->salts, true)[0] - self::numbers($salts, true)[0]) & 0xFFFFFFFF;

        return $lives > 0 && $lives <= self::FORMER_LIVES && substr($salts, 4) !== substr($this->salts, 4);
    }

    /** Salts and byte order that the most frames agree on, where the log's own head can't be believed. */
    private function guessHead(): void
    {
        $seen = [];
        for ($n = 0; $n < $this->frames; ++$n) {
            [$head] = $this->frame($n);
            if (self::FRAME_HEADER === strlen($head)) {
                $seen[bin2hex(substr($head, 8, 8))] = ($seen[bin2hex(substr($head, 8, 8))] ?? 0) + 1;
            }
        }
        arsort($seen);
        $first = array_key_first($seen);
        if (null === $first) {
            return;
        }
        // The first frame's own salts, where they are as good as the most frequent: a log may be shorter than its
        // former life.
        $this->salts = (string) hex2bin((string) $first);
        [$head, $page] = $this->frame(0);
        $fields = self::numbers($head, true);
        foreach ([true, false] as $bigEndian) {
            if (null !== $this->sum && 6 === count($fields) && self::checksum(
                substr($head, 0, 8).$page, $bigEndian, $this->sum,
            ) === [$fields[4], $fields[5]]) {
                [$this->bigEndian, $this->salts] = [$bigEndian, substr($head, 8, 8)];

                return;
            }
        }
        // The head's checksum is gone too: the order in which the second frame goes on from the first.
        $this->sum = null;
        [$next, $page] = $this->frame(1);
        $after = self::numbers($next, true);
        foreach ([true, false] as $bigEndian) {
            if (6 === count($fields) && 6 === count($after) && self::checksum(
                substr($next, 0, 8).$page, $bigEndian, [$fields[4], $fields[5]],
            ) === [$after[4], $after[5]]) {
                $this->bigEndian = $bigEndian;
            }
        }
    }

    /**
     * How many pages the database has now, in its own head.
     *
     * @param resource $target
     */
    private static function setPages(mixed $target, string $path, int $pages): void
    {
        fseek($target, 24);
        $changes = Disk::read($target, 4, $path);
        fseek($target, 28);
        Disk::write($target, pack('N', $pages), $path);
        fseek($target, 92);
        Disk::write($target, $changes, $path);
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
