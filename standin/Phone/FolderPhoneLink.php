<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Phone\AppState;
use Geschenk\Core\Phone\FileUnreadable;
use Geschenk\Core\Phone\PhoneFile;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneSettings;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Sending;
use Geschenk\Core\Platform;

/**
 * The cable to a stand-in phone, with a simulated speed and the faults that its state plans.
 *
 * @phpstan-import-type State from PhoneFolder
 */
final class FolderPhoneLink implements PhoneLink
{
    private const PIECE = 65_536;

    private int $bytesMoved = 0;

    /** How often the phone had been started when this link was first used: a start ends every transfer. */
    private ?int $starts = null;
    /** Bytes that are free, as far as this link knows, while as much as then is taken by others. */
    private int $room = 0;
    private ?int $takenByOthers = null;

    /** @param bool $inOneStep false does a swap as where the system can't exchange two folders */
    public function __construct(private readonly PhoneFolder $phone, private readonly bool $inOneStep = true)
    {
    }

    public function serial(): string
    {
        return basename($this->phone->path);
    }

    public function state(): PhoneState
    {
        $s = Faults::strikeByTime($this->phone);
        $platform = Platform::from($s['platform']);
        $isAndroid = Platform::Android === $platform;
        $open = $s['plugged'] && $s['admitted'] && (!$isAndroid || $s['debugging']);

        return new PhoneState(
            $s['serial'], $s['maker'], $s['model'], $platform, $s['os_version'], $s['plugged'], $s['unlocked'],
            $s['plugged']
                ? $s['battery']
                : null,
            $isAndroid ? $s['debugging'] : null, $s['admitted'], $open ? max(
                0, $s['storage_total'] - $s['storage_other'] - $this->phone->used(),
            ) : null,
            $open ? array_map(fn (array $a): AppState => new AppState(
                $a['id'], $a['name'], $a['version'], $a['number'], $a['auto_backup'] ?? false,
                $isAndroid ? $a['storage_allowed'] ?? true : null, $a['opened'] ?? true, $a['contacts_allowed'] ?? true,
                $isAndroid ? null : $a['photos_allowed'] ?? true, SigningUp::of($this->phone, $a, time()),
                $a['signed_out'] ?? false, $a['offers_cloud'] ?? false,
            ), $s['apps']) : null,
            $open ? new PhoneSettings(
                $s['lock_after'] ?? 600, $s['managed'] ?? false, $isAndroid ? null : $s['theft_lock'] ?? false,
            ) : new PhoneSettings(),
            $s['plugged'] ? $s['battery'] < 100 : null,
            $s['plugged'] && isset($s['started_at']) ? max(0, time() - $s['started_at']) : null,
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

    public function folders(string $app, string $folder, int $most): array
    {
        $this->ensureOpen();
        $path = $this->root($app).'/'.$folder;
        $found = [];
        foreach (is_dir($path) && !is_link($path) ? (@scandir($path, \SCANDIR_SORT_DESCENDING) ?: []) : [] as $name) {
            if (count($found) < $most && Folder::staysInside($name) && is_dir($path.'/'.$name)
                && !is_link($path.'/'.$name)) {
                $found[] = $name;
            }
        }

        return $found;
    }

    public function file(string $app, string $path): ?PhoneFile
    {
        $this->ensureOpen();
        $root = $this->root($app);

        return Folder::hasPlain($root, $path) ? $this->describe($root, $path) : null;
    }

    public function pull(string $app, string $path, mixed $sink, callable $onBytes, int $from = 0): array
    {
        $state = $this->ensureUnlocked();
        $root = $this->root($app);
        if (!Folder::hasPlain($root, $path)) {
            throw PhoneRefuses::noFile($path);
        }
        // Between two renames of a swap a file is where it was before: looked for there once more.
        $source = @fopen($root.'/'.$path, 'r') ?: @fopen($this->root($app).'/'.$path, 'r')
            ?: throw FileUnreadable::of($path, 0, $this->describe($root, $path)->bytes);
        $listed = fstat($source)['size'] ?? 0;
        $hash = new StreamHash(max(0, $listed - $from));
        $bytes = 0;
        try {
            stream_set_chunk_size($source, self::PIECE);
            fseek($source, $from);
            while (!feof($source)) {
                $piece = @fread($source, self::PIECE);
                $at = $from + $bytes;
                $readable = self::readable($state, $path, $at + strlen((string) $piece));
                if (false === $piece || $readable < $at + strlen($piece)) {
                    self::write($sink, substr((string) $piece, 0, max(0, $readable - $at)));
                    throw FileUnreadable::of($path, min($readable, $at + strlen((string) $piece)), $listed);
                }
                if ('' === $piece) {
                    continue;
                }
                $state = $this->travel('pull', strlen($piece));
                $hash->add($piece);
                self::write($sink, $piece);
                $bytes += strlen($piece);
                $onBytes(strlen($piece));
            }
            // An error of the storage looks like an end: the file itself says how much of it there is.
            $there = fstat($source)['size'] ?? 0;
            if ($from + $bytes < min($listed, $there)) {
                throw FileUnreadable::of($path, $from + $bytes, $listed);
            }
        } finally {
            fclose($source);
        }

        return ['bytes' => $bytes, 'sha256' => $hash->finish()];
    }

    public function push(string $app, string $stage, string $path, Sending $sending): void
    {
        if ($sending->from > 0 && $sending->from > $this->beginning($app, $stage, $path)) {
            throw new \InvalidArgumentException(sprintf('Of %s there are no %d bytes yet.', $path, $sending->from));
        }
        $this->ensureOpen();
        $this->root($app);
        if (!Folder::staysInside($path)) {
            throw new \InvalidArgumentException(sprintf('The path %s leads out of the stage.', $path));
        }
        $temporary = $this->piece($app, $stage, $path);
        Folder::make(dirname($temporary));
        $sink = Disk::open($temporary, $sending->from > 0 ? 'r+' : 'w');
        ftruncate($sink, max(0, $sending->from));
        fseek($sink, $sending->from);
        while ('' !== ($piece = Disk::read($sending->source, self::PIECE, $path))) {
            $this->take($this->travel('push', strlen($piece)), strlen($piece));
            self::write($sink, $piece);
            ($sending->onBytes)(strlen($piece));
        }
        Disk::finish($sink, $temporary);
        $this->putInStage($app, $stage, $path);
    }

    public function takeOver(string $app, string $stage, string $path, string $sha256): bool
    {
        $state = $this->ensureUnlocked();
        $root = $this->root($app);
        if (!Folder::staysInside($path) || !Folder::hasPlain($root, $path)) {
            return false;
        }
        $bytes = (int) @filesize($root.'/'.$path);
        if (self::readable($state, $path, $bytes) < $bytes) {
            return false;
        }
        $source = Disk::open($root.'/'.$path, 'r');
        $temporary = $this->piece($app, $stage, $path);
        Folder::make(dirname($temporary));
        $sink = Disk::open($temporary, 'w');
        $hash = hash_init('sha256');
        try {
            while ('' !== ($piece = Disk::read($source, self::PIECE, $path))) {
                $this->take($this->phone->state(), strlen($piece));
                hash_update($hash, $piece);
                self::write($sink, $piece);
            }
        } finally {
            fclose($source);
        }
        Disk::finish($sink, $temporary);
        // What was copied is what is held against it: it may have been written to meanwhile.
        if (hash_final($hash) !== $sha256) {
            @unlink($temporary);

            return false;
        }
        $this->putInStage($app, $stage, $path);

        return true;
    }

    /** Puts a file that has come whole where it is seen as staged. */
    private function putInStage(string $app, string $stage, string $path): void
    {
        $temporary = $this->piece($app, $stage, $path);
        $target = $this->phone->stage($app, $stage).'/'.$path;
        Folder::make(dirname($target));
        if (!Disk::quietly(static fn (): bool => rename($temporary, $target))) {
            throw Disk::failure('rename', $target);
        }
    }

    public function beginning(string $app, string $stage, string $path): int
    {
        $this->ensureOpen();
        $piece = $this->piece($app, $stage, $path);
        clearstatcache(true, $piece);

        return is_file($piece) ? (int) filesize($piece) : 0;
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

        return Folder::hasPlain($this->phone->stage($app, $stage), $path) ? Disk::sha256($full) : null;
    }

    public function mark(string $app): string
    {
        $this->ensureOpen();

        return $this->markOf($this->root($app));
    }

    public function swap(string $app, string $stage, string $seen): void
    {
        $this->ensureUnlocked();
        $this->phone->alone(function () use ($app, $stage, $seen): void {
            $data = $this->phone->data($app);
            $incoming = $this->phone->stage($app, $stage);
            $note = $this->readNote($app);
            if (null !== $note && $this->isInPlace($app, $stage)) {
                $this->putNote($app, $stage, $note['files'], true);
                $this->clear($app, $stage);

                return;
            }
            if (!is_dir($incoming) || is_link($incoming)) {
                throw PhoneRefuses::noStage($stage);
            }
            if ($this->markOf($data) !== $seen) {
                throw PhoneRefuses::changedMeanwhile();
            }
            Disk::syncNames($incoming);
            Disk::sync(dirname($incoming));
            // What is staged is known again by its folder and its files: so nobody has to guess which of the two it is.
            $files = $this->filesOf($incoming);
            $this->putNote($app, $stage, $files, false);
            $this->cutPowerIfPlanned('power_cut');
            $this->exchange($app, $incoming);
            Disk::sync($this->phone->path.'/data');
            Disk::sync(dirname($incoming));
            $this->cutPowerIfPlanned('power_cut_after');
            $this->putNote($app, $stage, $files, true);
            $this->clear($app, $stage);
            $this->askAnew($app);
        });
    }

    /** A messenger whose data was put there asks for everything again, once it is opened. */
    private function askAnew(string $app): void
    {
        $this->phone->change(static function (array $s) use ($app): array {
            foreach ($s['apps'] as $place => $one) {
                if ($one['id'] === $app) {
                    $anew = ['opened' => false, 'contacts_allowed' => false, 'photos_allowed' => false];
                    $s['apps'][$place] = $anew + $one;
                }
            }

            return $s;
        });
    }

    public function swapped(string $app): ?string
    {
        $this->ensureOpen();
        $note = $this->readNote($app);

        return null !== $note && $this->isInPlace($app, $note['stage']) ? $note['stage'] : null;
    }

    public function dropStage(string $app, string $stage): void
    {
        $this->ensureOpen();
        $this->phone->alone(function () use ($app, $stage): void {
            $note = $this->readNote($app);
            // That it was about to be put in place is told no more by anybody; before it is gone.
            if (null !== $note && $note['stage'] === $stage && !$this->isInPlace($app, $stage)) {
                Folder::remove($this->note($app));
                Disk::sync($this->phone->path);
            }
            Folder::remove($this->phone->stage($app, $stage));
            Folder::remove($this->pieces($app, $stage));
        });
    }

    public function restart(): void
    {
        $this->ensureOpen();
        Folder::remove($this->phone->path.'/incoming');
        // Of a swap that was killed while its note was written.
        array_map(Folder::remove(...), glob($this->phone->path.'/swap-*.json.part') ?: []);
        $this->phone->change(static fn (array $s): array => ['started_at' => time()] + $s);
        foreach ($this->phone->state()['faults'] as $fault) {
            if ('first_open' === $fault['on'] && 'lose_files' === $fault['do']) {
                $this->loseFiles($fault['largest'] ?? 1, $fault['from'] ?? 0.0, $fault['to'] ?? 1.0);
                $this->dropFault($fault['on']);
            }
        }
    }

    /**
     * In one step where the system can; else by two renames, between which data() knows the old data by its other name.
     */
    private function exchange(string $app, string $incoming): void
    {
        $data = $this->phone->path.'/data/'.$app;
        if (is_dir($data)) {
            if ($this->inOneStep && Exchange::folders($incoming, $data)) {
                return;
            }
            Folder::remove($this->phone->old($app));
            $this->rename($data, $this->phone->old($app));
            $this->cutPowerIfPlanned('power_cut_between');
        }
        $this->rename($incoming, $data);
    }

    private function rename(string $from, string $to): void
    {
        if (!Disk::quietly(static fn (): bool => rename($from, $to))) {
            throw Disk::failure('rename', $to);
        }
    }

    /** What was there before: only once what is there now is on the storage. */
    private function clear(string $app, string $stage): void
    {
        Folder::remove($this->phone->stage($app, $stage));
        Folder::remove($this->pieces($app, $stage));
        Folder::remove($this->phone->old($app));
    }

    private function isInPlace(string $app, string $stage): bool
    {
        $note = $this->readNote($app);
        if (null === $note || $note['stage'] !== $stage || !is_dir($this->phone->path.'/data/'.$app)) {
            return false;
        }

        // Begun and not ended: it was done where the very files that were staged lie in place. That they lie nowhere
        // else proves nothing.
        return $note['done'] || $this->filesOf($this->phone->path.'/data/'.$app) === $note['files'];
    }

    /** Names and contents, whenever they were written, and wherever the folder lies. */
    private function filesOf(string $folder): string
    {
        $hash = hash_init('xxh128');
        foreach (Folder::files($folder) as $path) {
            hash_update($hash, $path."\0".hash_file('xxh128', $folder.'/'.$path)."\n");
        }

        return hash_final($hash);
    }

    private function putNote(string $app, string $stage, string $files, bool $isDone): void
    {
        Disk::put(
            $this->note($app),
            json_encode(['stage' => $stage, 'files' => $files, 'done' => $isDone], \JSON_THROW_ON_ERROR),
        );
    }

    private function note(string $app): string
    {
        return $this->phone->path.'/swap-'.$app.'.json';
    }

    /**
     * @return array{
     *     stage: string, files: string, done: bool,
     * }|null null where there is none that can be read: it stops nobody
     */
    private function readNote(string $app): ?array
    {
        $note = is_file($this->note($app))
            ? json_decode((string) @file_get_contents($this->note($app)), true, 4)
            : null;

        return is_array($note) && is_string($note['stage'] ?? null) && is_string($note['files'] ?? null)
            && is_bool($note['done'] ?? null)
            ? ['stage' => $note['stage'], 'files' => $note['files'], 'done' => $note['done']]
            : null;
    }

    private function markOf(string $root): string
    {
        $hash = hash_init('xxh128');
        foreach (Folder::files($root) as $path) {
            $file = $this->describe($root, $path);
            hash_update($hash, $path."\0".$file->bytes."\0".$file->changed."\n");
        }

        return hash_final($hash);
    }

    /**
     * How far a file can be read, where a fault of its storage is planned.
     *
     * @param State $state
     */
    private static function readable(array $state, string $path, int $wanted): int
    {
        foreach ($state['faults'] as $fault) {
            if ('read' === $fault['on'] && 'error' === $fault['do'] && ($fault['path'] ?? $path) === $path) {
                return min($wanted, $fault['after_bytes'] ?? 0);
            }
        }

        return $wanted;
    }

    /**
     * Like a phone whose storage fails: a stretch of the files in the largest attachment folders is gone after opening.
     */
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
                foreach (array_slice(
                    $files, (int) floor($count * $from), (int) ceil($count * ($to - $from)),
                ) as $path) {
                    unlink($this->phone->data($app['id']).'/'.$path);
                }
            }
        }
    }

    /** @return State */
    private function travel(string $direction, int $bytes): array
    {
        $this->bytesMoved += $bytes;
        $state = $this->checked(Faults::strike($this->phone, $direction, $this->bytesMoved));
        if (!$state['unlocked']) {
            throw PhoneRefuses::locked();
        }
        if ($state['cable_mb_s'] > 0) {
            usleep((int) ($bytes / $state['cable_mb_s']));
        }

        return $state;
    }

    /**
     * Storage for what is written; what others take meanwhile is seen.
     *
     * @param State $state
     */
    private function take(array $state, int $bytes): void
    {
        if ($this->takenByOthers !== $state['storage_other'] || $this->room < $bytes) {
            $this->takenByOthers = $state['storage_other'];
            $this->room = max(0, $state['storage_total'] - $state['storage_other'] - $this->phone->used());
        }
        if ($this->room < $bytes) {
            throw PhoneRefuses::full($bytes, $this->room);
        }
        $this->room -= $bytes;
    }

    private function pieces(string $app, string $stage): string
    {
        return $this->phone->path.'/incoming/.pieces/'.$app.'/'.$stage;
    }

    /** Where a file is until all of it has come. */
    private function piece(string $app, string $stage, string $path): string
    {
        return $this->pieces($app, $stage).'/'.hash('xxh128', $path);
    }

    private function cutPowerIfPlanned(string $when): void
    {
        foreach ($this->phone->state()['faults'] as $fault) {
            if ('swap' === $fault['on'] && $when === $fault['do']) {
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

    /**
     * @return State
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function ensureOpen(): array
    {
        return $this->checked(Faults::strikeByTime($this->phone));
    }

    /**
     * @param State $state
     *
     * @return State
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function checked(array $state): array
    {
        $starts = $state['starts'] ?? 0;
        $this->starts ??= $starts;
        if (!$state['plugged'] || $starts !== $this->starts) {
            throw PhoneUnplugged::of($this->serial());
        }
        if (Platform::Android->value === $state['platform'] && !$state['debugging']) {
            throw PhoneRefuses::debuggingOff();
        }
        if (!$state['admitted']) {
            throw PhoneRefuses::notAllowed();
        }

        return $state;
    }

    /**
     * What is on a phone is readable while its screen is unlocked.
     *
     * @return State
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function ensureUnlocked(): array
    {
        $state = $this->ensureOpen();

        return $state['unlocked'] ? $state : throw PhoneRefuses::locked();
    }

    private function root(string $app): string
    {
        $root = 1 === preg_match('/^[a-z0-9]+(\.[a-z0-9]+)*$/D', $app) ? $this->phone->data($app) : '';
        if ('' === $root || !is_dir($root) || is_link($root)) {
            throw PhoneRefuses::noApp($app);
        }

        return $root;
    }

    private function describe(string $root, string $path): PhoneFile
    {
        // A file's time has whole seconds only; a database that was written to also differs in its first bytes.
        $full = $root.'/'.$path;
        $head = (string) @file_get_contents($full, false, null, 0, 100);
        clearstatcache(true, $full);
        $stat = @stat($full) ?: ['size' => 0, 'mtime' => 0, 'ctime' => 0, 'ino' => 0];

        return new PhoneFile(
            $path, $stat['size'],
            sprintf('%d-%d-%d-%s', $stat['mtime'], $stat['ctime'], $stat['ino'], hash('crc32b', $head)), $stat['mtime'],
        );
    }

    /** @param resource $sink */
    private static function write(mixed $sink, string $piece): void
    {
        Disk::write($sink, $piece, stream_get_meta_data($sink)['uri'] ?? 'a file');
    }
}
