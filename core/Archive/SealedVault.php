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
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\UnusableInput;

/**
 * Keeps each backup sealed under a key of its own. What lies open in the same folder, of a version before, is read as
 * it is until it is sealed.
 */
final readonly class SealedVault implements Vault
{
    /** What the folder of each ends with. */
    public const SEALED = '.sealed';
    private const BEGUN = '.sealing';

    private PlainVault $open;

    public function __construct(private string $folder, private Keyring $keys, private OpenCopies $copies)
    {
        $this->open = new PlainVault($folder);
    }

    public function workplace(string $id): Workplace
    {
        return $this->open->workplace($id);
    }

    public function isKept(string $id): bool
    {
        return $this->isSealed($id) || $this->open->isKept($id);
    }

    public function keep(string $id, Progress $progress = new NoProgress()): void
    {
        $work = $this->open->workplace($id)->folder;
        Bag::validate($work);
        $this->sealFrom($id, $work, $progress);
        $this->open->discardBegun($id);
    }

    /**
     * Seals one that lies open.
     *
     * @throws UnusableInput where it is not whole: it stays as it is
     * @throws KeyFailure
     */
    public function seal(string $id, Progress $progress = new NoProgress()): void
    {
        if ($this->isSealed($id)) {
            // By one that was killed between the two: what lies open goes only where the other is whole.
            $this->verify($id);
        } else {
            $this->open->verify($id);
            $this->sealFrom($id, $this->folder.'/'.$id, $progress);
        }
        Folder::discard($this->folder.'/'.$id);
        $this->sync();
    }

    /** @return string|null id of the one that lies sealed at a path; null where none of this vault's does */
    public function idAt(string $path): ?string
    {
        $real = realpath($path);
        $id = false === $real ? '' : basename($real, self::SEALED);

        return '' !== $id && $real === realpath($this->sealed($id)) ? $id : null;
    }

    /** @return list<string> ids of those that lie open still */
    public function lyingOpen(): array
    {
        $ids = [];
        foreach (is_dir($this->folder) ? scandir($this->folder) ?: [] : [] as $name) {
            if (1 === preg_match('/^[0-9a-f-]{36}$/D', $name) && is_dir($this->folder.'/'.$name)) {
                $ids[] = $name;
            }
        }

        return $ids;
    }

    /** Whether it is under a password of its customer's: then nobody at the shop opens it. */
    public function isLocked(string $id): bool
    {
        return $this->keys->isUnderPassword($id);
    }

    /** Whether it is sealed, and could be locked. */
    public function isSealed(string $id): bool
    {
        return is_dir($this->sealed($id));
    }

    /**
     * Puts it under a password of its customer's. From then on it is told whole as long as it lies as it does now: who
     * asks for that has verified it.
     *
     * @throws UnusableInput
     * @throws KeyFailure
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function lock(
        string $id,
        #[\SensitiveParameter]
        string $password,
        Progress $progress = new NoProgress(),
    ): void {
        if ($this->isLocked($id)) {
            return;
        }
        $bag = $this->bag($id);
        $bag->bearWitness($this->keys->keyFor(self::witnessOf($id)), $progress);
        $this->keys->putUnderPassword($id, $password);
        $this->copies->drop($this->sealed($id));
    }

    /**
     * Takes it back under the shop's key.
     *
     * @throws KeyFailure where it is not the password
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function unlock(string $id, #[\SensitiveParameter] string $password): void
    {
        $this->keys->putUnderShopKey($id, $password);
        $this->bag($id)->dismissWitness();
        $this->keys->destroy(self::witnessOf($id));
    }

    public function verify(string $id, Progress $progress = new NoProgress()): void
    {
        if ($this->isLocked($id)) {
            // Its own key is not needed to hold what lies there against its list.
            (new SealedBag($this->sealed($id), DataKey::random()))->verifyByWitness(
                $this->keys->key(self::witnessOf($id)), $progress,
            );

            return;
        }
        $this->isSealed($id) || !$this->open->isKept($id)
            ? $this->bag($id)->verify($progress)
            : $this->open->verify($id, $progress);
    }

    public function open(string $id): OpenBackup
    {
        return $this->isSealed($id) || !$this->open->isKept($id)
            ? new OpenSealed($this->bag($id), $this->copies)
            : $this->open->open($id);
    }

    /** Where it lies sealed, for whoever copies it as a whole; it need not be there. */
    public function folderOf(string $id): string
    {
        return $this->sealed($id);
    }

    /** Another one whenever something came beside its payload, or went: that stays as it was kept. */
    public function stateOf(string $id): string
    {
        clearstatcache();
        $told = '';
        $folder = $this->sealed($id);
        foreach (is_dir($folder) ? scandir($folder) ?: [] : [] as $name) {
            if (!SealedBag::isOfPayload($name.'/') && '.' !== $name && '..' !== $name) {
                $below = is_dir($folder.'/'.$name) ? Folder::files($folder, $name) : [$name];
                foreach ($below as $path) {
                    $told .= $path.' '.filesize($folder.'/'.$path).' '.filemtime($folder.'/'.$path)."\n";
                }
            }
        }

        return hash('sha256', $told);
    }

    /**
     * Has what is wrong with it put right by somebody who has it as it was kept. It is to be verified behind that.
     *
     * @param \Closure(string, \Closure(string): bool): list<string> $bring brings its files into a folder, those alone
     *                                                                    that it is told are wanted, and says which
     *                                                                    there are
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function mend(string $id, \Closure $bring): void
    {
        $folder = $this->sealed($id);
        // What came later may be newer here.
        $belong = array_fill_keys($bring(
            $folder, static fn (string $path): bool => SealedBag::isOfPayload($path) || !is_file($folder.'/'.$path),
        ), true);
        foreach (iterator_to_array(Folder::files($folder), false) as $path) {
            if (SealedBag::isOfPayload($path) && !isset($belong[$path])) {
                Folder::discard($folder.'/'.$path);
            }
        }
        Disk::syncTogether($folder);
        $this->copies->drop($folder);
    }

    public function tagFiles(string $id, string $name): TagFiles
    {
        return !$this->isSealed($id) && $this->open->isKept($id)
            ? $this->open->tagFiles($id, $name)
            : new SealedTagFiles($this->sealed($id), $name, fn () => $this->keys->key($id));
    }

    public function places(string $id): array
    {
        return [...$this->open->places($id), $this->sealed($id), $this->begun($id)];
    }

    public function discard(string $id): int
    {
        // The key first: whatever comes between, what is left of it opens nothing.
        $this->keys->destroy($id);
        $this->keys->destroy(self::witnessOf($id));
        $this->copies->drop($this->sealed($id));

        return Folder::discard($this->sealed($id)) + Folder::discard($this->begun($id)) + $this->open->discard($id);
    }

    public function discardBegun(string $id): int
    {
        $bytes = Folder::discard($this->begun($id)) + $this->open->discardBegun($id);
        $this->isKept($id) ?: $this->keys->destroy($id);

        return $bytes;
    }

    public function sync(): void
    {
        $this->open->sync();
    }

    public function freeBytes(): ?int
    {
        return $this->open->freeBytes();
    }

    private function sealFrom(string $id, string $bag, Progress $progress): void
    {
        $part = $this->begun($id);
        Folder::discard($part);
        Folder::make($part);
        $files = $bytes = 0;
        foreach (Folder::files($bag) as $path) {
            ++$files;
            $bytes += (int) filesize($bag.'/'.$path);
        }
        $progress->phase('sealing', $files, $bytes);
        $sealing = new SealedBag($part, $this->keys->keyFor($id));
        $sealing->sealAll($bag, $progress);
        Disk::syncTogether($part);
        // What is called kept was read back from the disk.
        $sealing->verify();
        Disk::move($part, $this->sealed($id));
    }

    private function bag(string $id): SealedBag
    {
        if (!$this->isSealed($id)) {
            throw UnusableInput::backupBroken('@backup', 'no_bag');
        }

        return new SealedBag($this->sealed($id), $this->keys->key($id));
    }

    private static function witnessOf(string $id): string
    {
        return $id.' witness';
    }

    private function sealed(string $id): string
    {
        return $this->folder.'/'.$id.self::SEALED;
    }

    private function begun(string $id): string
    {
        return $this->folder.'/'.$id.self::BEGUN;
    }
}
