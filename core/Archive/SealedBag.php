<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\SealedFile;
use Geschenk\Core\UnusableInput;

/**
 * A bag each of whose files lies sealed, under a name that tells nothing. Which files there are is told by its
 * manifest, which is one of them: whoever has no key can neither read nor make one (docs/formats/sealed.md).
 */
final readonly class SealedBag
{
    private const OF = '@backup';

    public function __construct(public string $folder, private DataKey $key)
    {
    }

    /** Whether a folder looks like one: nobody without its key can tell. */
    public static function recognises(string $folder): bool
    {
        return str_ends_with($folder, SealedVault::SEALED) && is_dir($folder);
    }

    /** @param string $path in the bag */
    public function file(string $path): SealedFile
    {
        $name = $this->key->nameOf($path);

        return new SealedFile($this->folder.'/'.substr($name, 0, 2).'/'.substr($name, 2), $this->key, $path);
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
        foreach (Folder::files($bag) as $path) {
            $file = $this->file($path);
            Folder::make(dirname($file->path));
            $content = Disk::open($bag.'/'.$path, 'r');
            try {
                $file->seal($content, static fn (int $bytes) => $progress->advance(0, $bytes));
            } finally {
                fclose($content);
            }
            $progress->advance(1);
        }
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
            $present += str_starts_with($path, SealedTagFiles::FOLDER) ? 0 : 1;
        }
        if ($present !== $listed) {
            throw UnusableInput::backupBroken(self::OF, 'other_files', '', $present, $listed);
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
