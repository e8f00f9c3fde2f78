<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\ManyHashes;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealedFile;
use Geschenk\Core\Seal\SealedFolder;
use Geschenk\Core\UnusableInput;

/**
 * A bag each of whose files lies sealed, under a name that tells nothing. Which files there are is told by its
 * manifest, which is one of them: whoever has no key can neither read nor make one (docs/formats/sealed.md).
 */
final readonly class SealedBag
{
    private const OF = '@backup';
    /** The hashes of all its files as they lie, for whoever may not open it. */
    private const WITNESS = 'witness';

    public function __construct(public string $folder, private DataKey $key)
    {
    }

    /** Whether a folder looks like one: nobody without its key can tell. */
    public static function recognises(string $folder): bool
    {
        return str_ends_with($folder, SealedVault::SEALED) && is_dir($folder);
    }

    /** @param string $path in its folder, as it lies */
    public static function isOfPayload(string $path): bool
    {
        return SealedFolder::holds($path);
    }

    /** @param string $path in the bag */
    public function file(string $path): SealedFile
    {
        return $this->files()->file($path);
    }

    /**
     * Seals all of a bag; that it is on the disk is waited for by the caller.
     *
     * @param string $bag folder of it
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function sealAll(string $bag, Progress $progress = new NoProgress()): void
    {
        $this->files()->sealAll($bag, $progress);
    }

    public function files(): SealedFolder
    {
        return new SealedFolder($this->folder, $this->key);
    }

    /**
     * @return array<string, string> the lines of bag-info.txt
     *
     * @throws UnusableInput
     * @throws DiskFailure
     */
    public function info(): array
    {
        return Bag::infoIn($this->file(Bag::INFO)->text());
    }

    /**
     * What its manifest lists.
     *
     * @return \Generator<int, array{path: string, sha256: string}>
     *
     * @throws UnusableInput
     * @throws DiskFailure
     */
    public function listed(): \Generator
    {
        $stream = $this->file(Bag::MANIFEST)->open();
        try {
            for ($n = 1; false !== ($line = fgets($stream)); ++$n) {
                yield Bag::listed($line) ?? throw UnusableInput::backupBroken(self::OF, 'bad_line', Bag::MANIFEST, $n);
            }
        } finally {
            fclose($stream);
        }
    }

    /**
     * Opens all of it, to the last byte: that it was sealed so, by whoever has the key, is shown by its opening.
     *
     * @throws UnusableInput naming the first thing that is wrong
     * @throws DiskFailure
     */
    public function verify(Progress $progress = new NoProgress()): void
    {
        foreach (Bag::TAGS as $tag) {
            $this->open($tag);
        }
        // As it says itself: how far it is.
        $oxum = explode('.', $this->info()['Payload-Oxum'] ?? '0.0') + [1 => '0'];
        $progress->phase('reading_back', (int) $oxum[1], (int) $oxum[0]);
        $listed = count(Bag::TAGS);
        foreach ($this->listed() as $file) {
            $this->open($file['path'], $progress);
            ++$listed;
            $progress->advance(1);
        }
        $present = 0;
        foreach (Folder::files($this->folder) as $path) {
            $present += str_starts_with($path, SealedTagFiles::FOLDER) || self::WITNESS === $path ? 0 : 1;
        }
        if ($present !== $listed) {
            throw UnusableInput::backupBroken(self::OF, 'other_files', '', $present, $listed);
        }
    }

    /**
     * Lists its files as they lie, sealed under another key: by that it is verified while nobody has its own.
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function bearWitness(DataKey $key, Progress $progress = new NoProgress()): void
    {
        $list = '';
        foreach ($this->hashes($progress) as $path => $sha256) {
            $list .= $sha256.'  '.$path."\n";
        }
        $witness = $this->witness($key);
        $part = new SealedFile($witness->path.'.part', $key, self::WITNESS);
        $part->sealText($list);
        Disk::sync($part->path);
        Disk::move($part->path, $witness->path);
    }

    public function dismissWitness(): void
    {
        Folder::remove($this->folder.'/'.self::WITNESS);
    }

    /**
     * Holds its files against their list.
     *
     * @throws UnusableInput naming the first thing that is wrong
     * @throws DiskFailure
     */
    public function verifyByWitness(DataKey $key, Progress $progress = new NoProgress()): void
    {
        $listed = [];
        foreach (explode("\n", trim($this->witness($key)->text())) as $line) {
            [$sha256, $path] = explode('  ', $line, 2) + [1 => ''];
            $listed[$path] = $sha256;
        }
        $progress->phase('reading_back', count($listed));
        foreach ($this->hashes($progress) as $path => $sha256) {
            $expected = $listed[$path] ?? throw UnusableInput::backupBroken(self::OF, 'other_files', '', 1, 0);
            hash_equals($expected, $sha256) ?: throw UnusableInput::backupBroken(self::OF, 'changed', $path);
            unset($listed[$path]);
        }
        if ([] !== $listed) {
            throw UnusableInput::backupBroken(self::OF, 'missing', (string) array_key_first($listed));
        }
    }

    private function witness(DataKey $key): SealedFile
    {
        return new SealedFile($this->folder.'/'.self::WITNESS, $key, self::WITNESS);
    }

    /**
     * @return \Generator<string, string> SHA-256 of its files as they lie, by their place
     *
     * @throws DiskFailure
     */
    private function hashes(Progress $progress): \Generator
    {
        $paths = [];
        foreach (Folder::files($this->folder) as $path) {
            if (self::WITNESS !== $path && !str_starts_with($path, SealedTagFiles::FOLDER)) {
                $paths[] = $path;
            }
        }
        foreach (array_chunk($paths, ManyHashes::AT_ONCE) as $some) {
            $hashes = ManyHashes::of(array_map(fn (string $path): string => $this->folder.'/'.$path, $some));
            foreach ($some as $n => $path) {
                yield $path => $hashes[$n] ?? Disk::sha256($this->folder.'/'.$path);
                $progress->advance(1, (int) filesize($this->folder.'/'.$path));
            }
        }
    }

    private function open(string $path, Progress $progress = new NoProgress()): void
    {
        $file = $this->file($path);
        $file->isThere() ?: throw UnusableInput::backupBroken(self::OF, 'missing', $path);
        foreach ($file->pieces() as $piece) {
            $progress->advance(0, strlen($piece));
        }
    }
}
