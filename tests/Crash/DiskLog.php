<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

/**
 * What a process and its children do to the disk, as the kernel is told: strace stands between the code and the disk,
 * so that SQLite's own writes are seen like ours, and nobody has to remember to go through a layer of our own.
 *
 * @phpstan-type Op array{do: string, path: string, to?: string, at?: int, bytes?: string, size?: int}
 */
final class DiskLog
{
    private const CALLS = 'openat,open,creat,write,pwrite64,ftruncate,truncate,rename,renameat,renameat2,'
        .'unlink,unlinkat,rmdir,mkdir,mkdirat,link,linkat,fsync,fdatasync,syncfs,lseek';

    /**
     * Runs a command under the recorder.
     *
     * @param list<string>          $command
     * @param array<string, string> $environment
     * @param string                $home        only what is done below it counts
     *
     * @return list<Op> in the order in which it was done
     */
    public static function record(
        array $command,
        array $environment,
        string $input,
        string $home,
        string $logFile,
    ): array {
        $process = proc_open(
            [
                'strace', '-f', '-qq', '-xx', '-y', '-s', '100000000', '-e', 'trace='.self::CALLS, '-e', 'signal=none',
                '-o', $logFile, ...$command,
            ],
            [['pipe', 'r'], ['file', '/dev/null', 'w'], ['file', $logFile.'.err', 'w']], $pipes, null, $environment,
        );
        if (false === $process) {
            throw new \RuntimeException('strace could not be started.');
        }
        fwrite($pipes[0], $input);
        fclose($pipes[0]);
        $code = proc_close($process);
        if (0 !== $code) {
            throw new \RuntimeException(
                sprintf('The recorded process ended with %d: %s', $code, file_get_contents($logFile.'.err')),
            );
        }

        return iterator_to_array(self::parse($logFile, $home), false);
    }

    /** @return \Generator<int, Op> */
    private static function parse(string $logFile, string $home): \Generator
    {
        $log = fopen($logFile, 'r') ?: throw new \RuntimeException('There is no log.');
        /** @var array<string, string> $begun */
        $begun = [];
        /** @var array<string, int> $offsets by process and descriptor */
        $offsets = [];
        while (false !== ($line = fgets($log))) {
            if (1 !== preg_match('/^(\d+) +/', substr($line, 0, 40), $parts)) {
                continue;
            }
            $pid = $parts[1];
            $call = substr(rtrim($line, "\n"), strlen($parts[0]));
            if (str_ends_with($call, '<unfinished ...>')) {
                $begun[$pid] = substr($call, 0, -strlen('<unfinished ...>'));
                continue;
            }
            if (1 === preg_match('/^<\.\.\. \w+ resumed>/', substr($call, 0, 60), $rest)) {
                $call = ($begun[$pid] ?? '').substr($call, strlen($rest[0]));
                unset($begun[$pid]);
            }
            $equals = strrpos($call, ') ');
            $result = false === $equals ? '' : ltrim(substr($call, $equals + 2));
            if (!str_starts_with($result, '= ') || str_starts_with($result, '= -1')
                || str_starts_with($result, '= ?')) {
                continue;
            }
            yield from self::op($pid, (string) strtok($call, '('), $call, (int) substr($result, 2), $home, $offsets);
        }
        fclose($log);
    }

    /**
     * @param array<string, int> $offsets
     *
     * @return list<Op>
     */
    private static function op(
        string $pid,
        string $name,
        string $call,
        int $result,
        string $home,
        array &$offsets,
    ): array {
        // All is written in hexadecimal, so what stands between two quotes is one text.
        $pieces = explode('"', $call);
        $texts = array_map(
            self::text(...),
            array_values(array_filter($pieces, static fn (int $n): bool => 1 === $n % 2, \ARRAY_FILTER_USE_KEY)),
        );
        $isBelow = static fn (string $path): bool => str_starts_with($path, $home.'/') || $path === $home;
        $described = 1 === preg_match('/^\w+\((\d+)<((?:\\\\x[0-9a-f]{2})*)>/', substr($call, 0, 20_000), $fd)
            ? self::text($fd[2])
            : '';
        $key = $pid.' '.($fd[1] ?? '');
        switch ($name) {
            case 'openat':
            case 'open':
            case 'creat':
                $path = $texts[0] ?? '';
                $offsets[$pid.' '.$result] = 0;
                if (!$isBelow($path)) {
                    return [];
                }

                return [
                    ...(str_contains($call, 'O_CREAT') ? [['do' => 'create', 'path' => $path]] : []),
                    ...(str_contains($call, 'O_TRUNC') ? [['do' => 'size', 'path' => $path, 'size' => 0]] : []),
                ];
            case 'lseek':
                $offsets[$key] = $result;

                return [];
            case 'write':
            case 'pwrite64':
                $at = $offsets[$key] ?? 0;
                if ('pwrite64' === $name) {
                    $at = 1 === preg_match('/, (\d+) *\) += \d+$/', substr($call, -80), $where) ? (int) $where[1] : 0;
                } else {
                    $offsets[$key] = $at + $result;
                }

                return $isBelow($described)
                    ? [
                        [
                            'do' => 'write', 'path' => $described, 'at' => $at,
                            'bytes' => substr($texts[0] ?? '', 0, $result),
                        ],
                    ]
                    : [];
            case 'ftruncate':
                $size = 1 === preg_match('/, (\d+) *\) += 0$/', substr($call, -80), $where) ? (int) $where[1] : 0;

                return $isBelow($described) ? [['do' => 'size', 'path' => $described, 'size' => $size]] : [];
            case 'fsync':
            case 'fdatasync':
                return $isBelow($described) ? [['do' => 'sync', 'path' => $described]] : [];
            case 'syncfs':
                return $isBelow($described) ? [['do' => 'sync_all', 'path' => $home]] : [];
            case 'rename':
            case 'renameat':
            case 'renameat2':
                $do = str_contains($call, 'RENAME_EXCHANGE') ? 'exchange' : 'rename';

                return $isBelow($texts[1] ?? '')
                    ? [['do' => $do, 'path' => $texts[0] ?? '', 'to' => $texts[1] ?? '']]
                    : [];
            case 'mkdir':
            case 'mkdirat':
                return $isBelow($texts[0] ?? '') ? [['do' => 'folder', 'path' => $texts[0] ?? '']] : [];
            case 'link':
            case 'linkat':
                return $isBelow($texts[1] ?? '')
                    ? [['do' => 'link', 'path' => $texts[0] ?? '', 'to' => $texts[1] ?? '']]
                    : [];
            default:
                return $isBelow($texts[0] ?? '') ? [['do' => 'remove', 'path' => $texts[0] ?? '']] : [];
        }
    }

    private static function text(string $hex): string
    {
        return (string) hex2bin(str_replace('\x', '', $hex));
    }
}
