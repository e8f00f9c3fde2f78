<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What a reading process may use; the operating system sees to it (setrlimit(2)). */
final readonly class ReadingLimits
{
    private const MB = 1_048_576;
    /** What PHP and SQLite map without using it. */
    private const MAPPED = 1_536 * self::MB;

    /**
     * @param int $cpuSeconds  of computing
     * @param int $wallSeconds while nobody else is waited for
     * @param int $memory      bytes for values, and
     * @param int $fileBytes   size of the largest file that may be written
     */
    public function __construct(
        public int $cpuSeconds,
        public int $wallSeconds,
        public int $memory,
        public int $fileBytes,
    ) {
    }

    /** Far more than honest data of that size ever took, and still an end. */
    public static function forInput(int $bytes): self
    {
        $megabytes = intdiv($bytes, self::MB);

        return new self(
            30 + 2 * $megabytes, 120 + 8 * $megabytes, min(384 * self::MB + 10 * $bytes, 6_144 * self::MB),
            512 * self::MB + 50 * $bytes,
        );
    }

    /** @param array<array-key, mixed> $told of toArray() */
    public static function of(array $told): self
    {
        $n = static fn (string $name): int => is_int($told[$name] ?? null) ? $told[$name] : 0;

        return new self($n('cpu'), $n('wall'), $n('memory'), $n('file'));
    }

    /** @return array{cpu: int, wall: int, memory: int, file: int} */
    public function toArray(): array
    {
        return [
            'cpu' => $this->cpuSeconds, 'wall' => $this->wallSeconds, 'memory' => $this->memory,
            'file' => $this->fileBytes,
        ];
    }

    /** Binds this process to them, for good. */
    public function impose(): void
    {
        ini_set('memory_limit', (string) $this->memory);
        posix_setrlimit(\POSIX_RLIMIT_CPU, $this->cpuSeconds, $this->cpuSeconds + 5);
        posix_setrlimit(\POSIX_RLIMIT_AS, $this->memory + self::MAPPED, $this->memory + self::MAPPED);
        posix_setrlimit(\POSIX_RLIMIT_FSIZE, $this->fileBytes, $this->fileBytes);
        posix_setrlimit(\POSIX_RLIMIT_CORE, 0, 0);
    }
}
