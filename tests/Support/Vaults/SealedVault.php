<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Vaults;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\OpenBackup;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/**
 * A vault of somebody else's: each backup lies encrypted, its files under names that say nothing, and is unsealed into
 * scratch for as long as somebody has it open. Nothing but the vault knows of it.
 */
final readonly class SealedVault implements Vault
{
    private const BEGUN = '.sealing';
    private const LIST = 'list';

    private PlainVault $open;

    public function __construct(private string $folder, #[\SensitiveParameter] private string $key)
    {
        $this->open = new PlainVault($folder);
    }

    public function workplace(string $id): Workplace
    {
        return $this->open->workplace($id);
    }

    public function isKept(string $id): bool
    {
        return is_dir($this->sealed($id));
    }

    public function keep(string $id): void
    {
        $work = $this->open->workplace($id)->folder;
        Bag::validate($work);
        $part = $this->sealed($id).self::BEGUN;
        Folder::remove($part);
        Folder::make($part);
        $list = [];
        foreach (Folder::files($work) as $path) {
            $number = count($list);
            $list[$path] = (string) $number;
            $text = Disk::contents($work.'/'.$path);
            Disk::put("$part/$number", Seal::close($text, $this->key, "$id/$path"));
            $text === Seal::open(Disk::contents("$part/$number"), $this->key, "$id/$path") || throw self::broken();
        }
        Disk::put($part.'/'.self::LIST, Seal::close(json_encode($list, \JSON_THROW_ON_ERROR), $this->key, $id));
        Disk::move($part, $this->sealed($id));
        Folder::remove($work);
    }

    public function verify(string $id, Progress $progress = new NoProgress()): void
    {
        $this->open($id);
    }

    public function open(string $id): OpenBackup
    {
        $scratch = ScratchFolder::make(2 * $this->bytes($id));
        foreach ($this->list($id) as $path => $name) {
            Folder::make(dirname($scratch->path.'/'.$path));
            $sealed = $this->sealed($id).'/'.$name;
            is_file($sealed) || throw self::broken();
            $text = Seal::open(Disk::contents($sealed), $this->key, "$id/$path");
            Disk::put($scratch->path.'/'.$path, $text ?? throw self::broken());
        }
        Bag::validate($scratch->path);

        return new OpenBackup($scratch->path, $scratch);
    }

    public function tagFiles(string $id, string $name): TagFiles
    {
        return new SealedTagFiles($this->sealed($id).'/tags-'.$name, $this->key);
    }

    public function places(string $id): array
    {
        return [...$this->open->places($id), $this->sealed($id).self::BEGUN];
    }

    public function discard(string $id): int
    {
        return Folder::discard($this->sealed($id).self::BEGUN) + $this->open->discard($id);
    }

    public function discardBegun(string $id): int
    {
        return Folder::discard($this->sealed($id).self::BEGUN) + $this->open->discardBegun($id);
    }

    public function sync(): void
    {
        $this->open->sync();
    }

    public function freeBytes(): ?int
    {
        return $this->open->freeBytes();
    }

    private function sealed(string $id): string
    {
        return $this->folder.'/'.$id;
    }

    private function bytes(string $id): int
    {
        $bytes = 0;
        foreach (is_dir($this->sealed($id)) ? Folder::files($this->sealed($id)) : [] as $path) {
            $bytes += (int) filesize($this->sealed($id).'/'.$path);
        }

        return $bytes;
    }

    /** @return array<string, string> name on the disk by path in the bag */
    private function list(string $id): array
    {
        $path = $this->sealed($id).'/'.self::LIST;
        $told = is_file($path) ? Seal::open(Disk::contents($path), $this->key, $id) : null;
        /** @var array<string, string> $list */
        $list = null === $told ? throw self::broken() : json_decode($told, true, 4, \JSON_THROW_ON_ERROR);

        return $list;
    }

    private static function broken(): UnusableInput
    {
        return UnusableInput::backupBroken('@backup', 'changed', 'seal');
    }
}
