<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Messenger\WholePhone\Head;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/**
 * Reads in a process of its own, which has no secret, no phone and no database of the shop, and which the operating
 * system stops when it takes too much. It asks for attachments and tells its progress in lines of JSON; ReadingProcess
 * is the other end.
 */
final class ReadingApart implements ChatReading
{
    /** Bytes: longer lines are no honest answer. */
    private const LONGEST_LINE = 4_194_304;
    private const STDERR_KEPT = 4_000;
    private const EXTENSIONS = ['sqlite3', 'mbstring', 'posix', 'openssl', 'sodium', 'zlib', 'dom', 'xmlreader'];

    /** Beside those: for what unpacks archives, and reads nothing in them. */
    private const UNZIPS = ['zip', 'mbstring', 'posix', 'intl'];
    /** Bytes of the largest file that comes out of one, and of the memory that it takes. */
    private const UNZIPPED = 25_000_000_000;
    private const UNZIP_MEMORY = 536_870_912;

    private readonly ReadingPhp $php;
    private readonly ReadingPhp $unzips;

    /**
     * @param string                              $script   path of bin/read-chats
     * @param (\Closure(int): ReadingLimits)|null $limits   for input of so many bytes
     * @param string|null                         $compiled folder for what PHP has compiled
     */
    public function __construct(
        string $script,
        private readonly Formats $formats = new Formats(),
        private readonly ?\Closure $limits = null,
        ?string $compiled = null,
    ) {
        $this->php = new ReadingPhp($script, self::EXTENSIONS, $compiled);
        $this->unzips = new ReadingPhp($script, self::UNZIPS, $compiled);
    }

    public function read(
        string $folder,
        AttachmentFiles $files,
        string $store,
        Progress $progress,
        ?string $name = null,
    ): Format {
        $bytes = $this->formats->chatBytes($folder);
        $done = $this->run(
            ['act' => 'read', 'folder' => $folder, 'store' => $store, 'name' => $name], $bytes,
            new Listening($name ?? $folder, $files, $progress),
        );
        $format = is_string($done['format'] ?? null) ? $this->formats->byClass($done['format']) : null;

        return $format ?? throw new \RuntimeException('The reading process named no format.');
    }

    public function unpack(string $path, ?BackupKey $key, string $folder, ?string $name = null): void
    {
        Folder::make($folder);
        $this->run(
            [
                'act' => 'unpack', 'path' => $path, 'key' => null === $key ? null : base64_encode($key->told),
                'folder' => $folder, 'name' => $name,
            ],
            (int) @filesize($path), new Listening($name ?? $path),
        );
    }

    public function takeOver(string $path, string $store, Progress $progress, ?string $name = null): void
    {
        $this->run(
            ['act' => 'take_over', 'path' => $path, 'store' => $store, 'name' => $name], (int) @filesize($path),
            new Listening($name ?? $path, null, $progress),
        );
    }

    public function listPhone(
        string $folder,
        ?BackupKey $key,
        string $list,
        Progress $progress,
        ?string $name = null,
    ): void {
        $bytes = max(array_map(
            static fn (string $index): int => (int) @filesize($folder.'/'.$index),
            [Head::OPEN_INDEX, Head::LOCKED_INDEX],
        ));
        $this->run([
            'act' => 'list_phone', 'folder' => $folder, 'key' => null === $key ? null : base64_encode($key->told),
            'list' => $list, 'name' => $name,
        ], $bytes, new Listening($name ?? $folder, null, $progress));
    }

    public function unzip(
        string $path,
        #[\SensitiveParameter] ?string $password,
        string $folder,
        Progress $progress,
        ?string $name = null,
    ): void {
        $for = ReadingLimits::forInput((int) @filesize($path));
        $this->runWith($this->unzips, [
            'act' => 'unzip', 'path' => $path, 'key' => null === $password ? null : base64_encode($password),
            'folder' => $folder, 'name' => $name,
        ], new ReadingLimits(
            $for->cpuSeconds, $for->wallSeconds, self::UNZIP_MEMORY, self::UNZIPPED,
        ), new Listening($name ?? $path, null, $progress));
    }

    /**
     * @param array<string, string|null> $order
     * @param int                        $bytes of the input, which the limits follow
     *
     * @return array<array-key, mixed> what was done
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    private function run(array $order, int $bytes, Listening $listening): array
    {
        $limits = null === $this->limits ? ReadingLimits::forInput($bytes) : ($this->limits)($bytes);

        return $this->runWith($this->php, $order, $limits, $listening);
    }

    /**
     * @param array<string, string|null> $order
     *
     * @return array<array-key, mixed> what was done
     *
     * @throws UnusableInput
     * @throws DiskFull
     */
    private function runWith(ReadingPhp $php, array $order, ReadingLimits $limits, Listening $listening): array
    {
        $scratch = ScratchFolder::make();
        $process = proc_open(
            $php->command(), [['pipe', 'r'], ['pipe', 'w'], ['pipe', 'w']], $pipes, null,
            ['PATH' => (string) getenv('PATH'), 'TMPDIR' => $scratch->path, 'TZ' => 'UTC'],
        );
        if (false === $process) {
            throw new \RuntimeException('No process could be started for reading.');
        }
        try {
            self::say($pipes[0], ['limits' => $limits->toArray()] + $order);

            return $this->talk($process, $pipes, $limits->wallSeconds, $listening);
        } finally {
            foreach ($pipes as $pipe) {
                fclose($pipe);
            }
            proc_terminate($process, \SIGKILL);
            proc_close($process);
        }
    }

    /**
     * @param resource             $process
     * @param array<int, resource> $pipes
     * @param int                  $seconds that it may take
     *
     * @return array<array-key, mixed>
     */
    private function talk(mixed $process, array $pipes, int $seconds, Listening $listening): array
    {
        stream_set_blocking($pipes[1], false);
        stream_set_blocking($pipes[2], false);
        $errors = $heard = '';
        // Time in which this side looks for attachments, over a slow cable perhaps, is not held against the other.
        $left = (float) $seconds;
        while (true) {
            $begun = microtime(true);
            $ready = [$pipes[1], $pipes[2]];
            $none = null;
            @stream_select($ready, $none, $none, 0, 250_000);
            $left -= microtime(true) - $begun;
            $errors = substr($errors.(string) @stream_get_contents($pipes[2], 65_536), -self::STDERR_KEPT);
            $heard .= (string) @fread($pipes[1], 65_536);
            while (false !== ($end = strpos($heard, "\n"))) {
                $line = json_decode(substr($heard, 0, $end), true, 32);
                $heard = substr($heard, $end + 1);
                $done = is_array($line) ? $this->hear($line, $pipes[0], $listening) : null;
                if (null !== $done) {
                    return $done;
                }
            }
            // Whoever waits for the work may stop it here.
            $listening->progress?->advance(0);
            if ($left < 0 || strlen($heard) > self::LONGEST_LINE) {
                throw BeyondLimits::of($listening->name, BeyondLimits::TIME);
            }
            if ('' === $heard && feof($pipes[1])) {
                throw $this->end($process, $errors, $listening->name);
            }
        }
    }

    /**
     * @param array<array-key, mixed> $line
     * @param resource                $answers
     *
     * @return array<array-key, mixed>|null what was done, when it was the last line
     */
    private function hear(array $line, mixed $answers, Listening $listening): ?array
    {
        $text = static fn (string $key): string => is_string($line[$key] ?? null)
            ? (string) base64_decode($line[$key], true)
            : '';
        $number = static fn (string $key): int => is_int($line[$key] ?? null) ? $line[$key] : 0;
        switch ($line['say'] ?? '') {
            case 'phase':
                $listening->progress?->phase($text('name'), $number('items'), $number('bytes'));

                return null;
            case 'advance':
                $listening->progress?->advance($number('items'), $number('bytes'));

                return null;
            case 'look':
                $found = $listening->files?->look($text('path'), $text('type'), self::key($line));
                self::say($answers, null === $found ? [] : ['presence' => $found['presence']->value] + $found);

                return null;
            case 'open':
                $bytes = $this->smallFile($text('path'), $number('most'), $listening->files, self::key($line));
                self::say($answers, ['bytes' => $bytes]);

                return null;
            case 'done':
                return $line;
            case 'unusable':
                throw UnusableInput::told($text('reason'), self::fields($text('fields')));
            case 'disk_full':
                throw DiskFull::at($text('path'));
            default:
                throw new \RuntimeException('Reading failed: '.$text('message'));
        }
    }

    /** @return array<string, string|int> */
    private static function fields(string $json): array
    {
        $fields = [];
        $told = json_decode($json, true, 4);
        foreach (is_array($told) ? $told : [] as $name => $value) {
            $fields[(string) $name] = is_int($value) ? $value : (is_string($value) ? mb_substr($value, 0, 500) : '');
        }

        return $fields;
    }

    /** @param array<array-key, mixed> $line */
    private static function key(array $line): ?ContentKey
    {
        return is_string($line['cipher'] ?? null) && is_string($line['key'] ?? null)
            ? new ContentKey(Cipher::from($line['cipher']), (string) base64_decode($line['key'], true))
            : null;
    }

    /** @return string|null in Base64; null when there is none, or it is larger than that */
    private function smallFile(string $path, int $most, ?AttachmentFiles $files, ?ContentKey $key): ?string
    {
        $stream = $files?->open($path, $key);
        if (null === $stream) {
            return null;
        }
        $bytes = stream_get_contents($stream, $most + 1);
        fclose($stream);

        return false === $bytes || strlen($bytes) > $most ? null : base64_encode($bytes);
    }

    /** @param resource $process that ended without an answer */
    private function end(mixed $process, string $errors, string $name): \RuntimeException
    {
        for ($n = 0; $n < 200 && ($status = proc_get_status($process))['running']; ++$n) {
            usleep(10_000);
        }
        $signal = $status['signaled'] ?? false ? $status['termsig'] : 0;

        return match (true) {
            \SIGXCPU === $signal, \SIGKILL === $signal => BeyondLimits::of($name, BeyondLimits::CPU),
            \SIGXFSZ === $signal => BeyondLimits::of($name, BeyondLimits::FILE),
            1 === preg_match(
                '/Allowed memory size|Out of memory|cannot allocate memory/i', $errors,
            ), \SIGSEGV === $signal, \SIGABRT === $signal => BeyondLimits::of($name, BeyondLimits::MEMORY),
            default => new \RuntimeException(
                sprintf(
                    'The reading process ended without an answer (%s).',
                    '' === $errors ? 'signal '.$signal : trim((string) preg_replace('/\s+/', ' ', $errors)),
                ),
            ),
        };
    }

    /**
     * @param resource                $stream
     * @param array<array-key, mixed> $line
     */
    private static function say(mixed $stream, array $line): void
    {
        $text = json_encode($line, \JSON_THROW_ON_ERROR)."\n";
        for ($done = 0; $done < strlen($text); $done += $written) {
            $written = @fwrite($stream, substr($text, $done));
            if (false === $written || 0 === $written) {
                // It ended meanwhile; what it left says why.
                return;
            }
        }
    }
}
