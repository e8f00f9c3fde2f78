<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\AppState;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;

/** The cable to a stand-in phone, with a simulated speed and the faults that its state plans. */
final class FolderPhoneLink implements PhoneLink
{
    private const PIECE = 65_536;

    private int $bytesMoved = 0;

    public function __construct(private readonly PhoneFolder $phone)
    {
        $this->finishSwap();
    }

    public function serial(): string
    {
        return basename($this->phone->path);
    }

    public function state(): PhoneState
    {
        $s = $this->phone->state();
        $isAndroid = 'android' === $s['platform'];
        $open = $s['plugged'] && $s['admitted'] && (!$isAndroid || $s['debugging']);

        return new PhoneState(
            $s['serial'], $s['maker'], $s['model'], $s['platform'], $s['os_version'], $s['plugged'], $s['unlocked'], $s['plugged'] ? $s['battery'] : null,
            $isAndroid ? $s['debugging'] : null, $s['admitted'], $open ? max(0, $s['storage_total'] - $s['storage_other'] - $this->phone->used()) : null,
            $open ? array_map(static fn (array $a): AppState => new AppState($a['id'], $a['name'], $a['version'], $a['number']), $s['apps']) : null,
        );
    }

    public function files(string $app): iterable
    {
        $this->ensureOpen();
        $root = $this->root($app);
        foreach (Folder::files($root) as $path) {
            yield $this->describe($root, $path);
        }
    }

    public function file(string $app, string $path): ?PhoneFile
    {
        $this->ensureOpen();
        $root = $this->root($app);
        clearstatcache(true, $root.'/'.$path);

        return Folder::staysInside($path) && is_file($root.'/'.$path) && !is_link($root.'/'.$path) ? $this->describe($root, $path) : null;
    }

    public function pull(string $app, string $path, mixed $sink, callable $onBytes): array
    {
        $file = $this->file($app, $path) ?? throw PhoneRefuses::noFile($path);
        $source = fopen($this->root($app).'/'.$file->path, 'r') ?: throw PhoneRefuses::noFile($path);
        $hash = hash_init('sha256');
        $bytes = 0;
        try {
            while ('' !== ($piece = (string) fread($source, self::PIECE))) {
                $this->travel('pull', strlen($piece));
                hash_update($hash, $piece);
                self::write($sink, $piece);
                $bytes += strlen($piece);
                $onBytes(strlen($piece));
            }
        } finally {
            fclose($source);
        }

        return ['bytes' => $bytes, 'sha256' => hash_final($hash)];
    }

    public function push(string $app, string $stage, string $path, mixed $source, callable $onBytes): void
    {
        $this->ensureOpen();
        $this->root($app);
        if (!Folder::staysInside($path)) {
            throw new \InvalidArgumentException(sprintf('The path %s leads out of the stage.', $path));
        }
        $target = $this->phone->stage($app, $stage).'/'.$path;
        $temporary = Folder::make($this->phone->path.'/incoming/.pieces').'/'.bin2hex(random_bytes(6));
        $sink = fopen($temporary, 'w') ?: throw new \RuntimeException('The stand-in phone can\'t be written to.');
        try {
            while ('' !== ($piece = (string) fread($source, self::PIECE))) {
                $this->travel('push', strlen($piece));
                self::write($sink, $piece);
                $onBytes(strlen($piece));
            }
        } catch (\Throwable $error) {
            @unlink($temporary);
            throw $error;
        } finally {
            fclose($sink);
        }
        Folder::make(dirname($target));
        rename($temporary, $target);
    }

    public function staged(string $app, string $stage): iterable
    {
        $this->ensureOpen();
        $root = $this->phone->stage($app, $stage);
        foreach (Folder::files($root) as $path) {
            yield $this->describe($root, $path);
        }
    }

    public function stagedHash(string $app, string $stage, string $path): ?string
    {
        $this->ensureOpen();
        $full = $this->phone->stage($app, $stage).'/'.$path;

        return Folder::staysInside($path) && is_file($full) ? (hash_file('sha256', $full) ?: null) : null;
    }

    public function swap(string $app, string $stage): void
    {
        $this->ensureOpen();
        if (!is_dir($this->phone->stage($app, $stage))) {
            return;
        }
        // The note makes two renames one step: whoever opens the phone next finishes what it says.
        file_put_contents($this->phone->path.'/swap.json', json_encode(['app' => $app, 'stage' => $stage], \JSON_THROW_ON_ERROR));
        $this->finishSwap();
    }

    public function dropStage(string $app, string $stage): void
    {
        $this->ensureOpen();
        Folder::remove($this->phone->stage($app, $stage));
    }

    public function restart(): void
    {
        $this->ensureOpen();
        Folder::remove($this->phone->path.'/incoming');
        foreach ($this->phone->state()['faults'] as $fault) {
            if ('first_open' === $fault['on'] && 'lose_files' === $fault['do']) {
                $this->loseFiles($fault['largest'] ?? 1, $fault['from'] ?? 0.0, $fault['to'] ?? 1.0);
                $this->dropFault($fault['on']);
            }
        }
    }

    private function finishSwap(): void
    {
        $note = $this->phone->path.'/swap.json';
        if (!is_file($note)) {
            return;
        }
        /** @var array{app: string, stage: string} $swap written by swap() */
        $swap = json_decode((string) file_get_contents($note), true, 4, \JSON_THROW_ON_ERROR);
        $stage = $this->phone->stage($swap['app'], $swap['stage']);
        $data = $this->phone->data($swap['app']);
        $old = $this->phone->path.'/old-'.$swap['app'];
        if (is_dir($stage)) {
            if (is_dir($data) && !is_dir($old)) {
                rename($data, $old);
            }
            $this->cutPowerIfPlanned();
            Folder::remove($data);
            rename($stage, $data);
        }
        Folder::remove($old);
        unlink($note);
    }

    /** Like a phone whose storage fails: a stretch of the files in the largest attachment folders is gone after opening. */
    private function loseFiles(int $largest, float $from, float $to): void
    {
        foreach ($this->phone->state()['apps'] as $app) {
            $folders = [];
            foreach (Folder::files($this->phone->data($app['id'])) as $path) {
                if (substr_count($path, '/') >= 2 && !str_contains($path, '/peek/')) {
                    $folders[dirname($path)][] = $path;
                }
            }
            uasort($folders, static fn (array $a, array $b): int => count($b) <=> count($a));
            foreach (array_slice($folders, 0, $largest) as $files) {
                $count = count($files);
                foreach (array_slice($files, (int) floor($count * $from), (int) ceil($count * ($to - $from))) as $path) {
                    unlink($this->phone->data($app['id']).'/'.$path);
                }
            }
        }
    }

    private function travel(string $direction, int $bytes): void
    {
        $state = $this->ensureOpen();
        $this->bytesMoved += $bytes;
        foreach ($state['faults'] as $fault) {
            if ($fault['on'] === $direction && 'unplug' === $fault['do'] && $this->bytesMoved >= ($fault['after_bytes'] ?? 0)) {
                $this->dropFault($direction);
                $this->phone->change(static fn (array $s): array => ['plugged' => false] + $s);
                throw new PhoneUnplugged($this->serial());
            }
        }
        if ($state['cable_mb_s'] > 0) {
            usleep((int) ($bytes / $state['cable_mb_s']));
        }
    }

    private function cutPowerIfPlanned(): void
    {
        foreach ($this->phone->state()['faults'] as $fault) {
            if ('swap' === $fault['on'] && 'power_cut' === $fault['do']) {
                $this->dropFault('swap');
                posix_kill((int) getmypid(), \SIGKILL);
            }
        }
    }

    private function dropFault(string $on): void
    {
        $this->phone->change(static function (array $s) use ($on): array {
            $s['faults'] = array_values(array_filter($s['faults'], static fn (array $f): bool => $f['on'] !== $on));

            return $s;
        });
    }

    /** @return array{faults: list<array{on: string, do: string, after_bytes?: int, largest?: int, from?: float, to?: float}>, cable_mb_s: float} */
    private function ensureOpen(): array
    {
        $state = $this->phone->state();
        if (!$state['plugged']) {
            throw new PhoneUnplugged($this->serial());
        }
        if (!$state['admitted'] || ('android' === $state['platform'] && !$state['debugging'])) {
            throw PhoneRefuses::notAllowed();
        }

        return $state;
    }

    private function root(string $app): string
    {
        $root = $this->phone->data($app);
        if (1 !== preg_match('/^[a-z0-9]+$/', $app) || !is_dir($root)) {
            throw PhoneRefuses::noApp($app);
        }

        return $root;
    }

    private function describe(string $root, string $path): PhoneFile
    {
        // A file's time has whole seconds only; a database that was written to also differs in its first bytes.
        $head = (string) file_get_contents($root.'/'.$path, false, null, 0, 100);

        return new PhoneFile($path, (int) filesize($root.'/'.$path), filemtime($root.'/'.$path).'-'.hash('crc32b', $head), (int) filemtime($root.'/'.$path));
    }

    /** @param resource $sink */
    private static function write(mixed $sink, string $piece): void
    {
        if (fwrite($sink, $piece) !== strlen($piece)) {
            throw new \RuntimeException('This computer has no space left, or may not write there. Free some space and go on.');
        }
    }
}
