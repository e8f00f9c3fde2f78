<?php

declare(strict_types=1);

namespace Geschenk\App\Files;

use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Refusal;
use Geschenk\Core\Archive\OpenBackup;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Core\Seal\SealBroken;
use Geschenk\Core\Seal\SealedContents;
use Geschenk\Core\Seal\SealedFile;
use Geschenk\Core\Seal\SealedFolder;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Skeleton;
use Geschenk\Core\UnusableInput;

/**
 * The files that a move’s work leaves; whether they count is told by the records alone. They lie sealed, those with all
 * that was said and sent under a key that is destroyed with them; while they are made they lie open, in memory where
 * they are not too large. What a version before has left open is read as it is.
 */
final readonly class MoveFiles
{
    private const CONVERSION = 'conversion';
    private const SEALED = '.sealed';
    private const SEALING = '.sealing';
    /** The lines of checks, and what is left of the plan when nobody has to read it any more. */
    private const CHECKS = 'checks';
    private const READ_BACK = 'read-back.sqlite';

    public function __construct(
        private DataFolder $data,
        private Vault $vault,
        private Keyring $keys,
        private OpenCopies $copies,
        private WorkingPlaces $places,
    ) {
    }

    /**
     * The chats of a backup that was made here.
     *
     * @throws Refusal when they are not as they were written
     */
    public function chats(Backup $backup): ChatStore
    {
        return OwnFile::read('backup_spoilt', fn (): ChatStore => $this->vault->open($backup->id)->chats());
    }

    /**
     * What was kept is verified again whenever it is used.
     *
     * @throws UnusableInput when it is not as it was kept
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function verified(Backup $backup): OpenBackup
    {
        $this->vault->verify($backup->id);

        return $this->vault->open($backup->id);
    }

    /** Whether anything of what was erased is there: looked at anew, whenever somebody asks. */
    public function isThere(string $id, string $kind): bool
    {
        clearstatcache();
        $folders = 'work' === $kind
            ? [$this->data->path.'/trays/'.$id]
            : $this->vault->places($id);
        foreach ($folders as $folder) {
            foreach (is_dir($folder) ? Folder::files($folder) : [] as $_) {
                return true;
            }
        }

        return false;
    }

    /**
     * Has something made that lies open meanwhile, or goes on with what an attempt before has left of it.
     *
     * @template T
     *
     * @param int                  $bytes of all of it, about
     * @param \Closure(string): T $make  is told the folder
     *
     * @return T
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function makeIn(Move $move, int $bytes, \Closure $make): mixed
    {
        return $this->places->workIn(self::place($move), $bytes, $make);
    }

    /**
     * What was being made is not wanted any more, or is sealed.
     *
     * @return int bytes of its files
     *
     * @throws DiskFailure
     */
    public function discardMade(Move $move): int
    {
        return $this->places->discard(self::place($move))
            + Folder::discard($this->folder($move, self::CONVERSION.self::SEALING))
            + Folder::discard($this->folder($move, 'conversion.part'));
    }

    /**
     * Seals what was converted: it is there as a whole, read back, or not at all.
     *
     * @param string $made the folder that it lies in
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function keepConversion(Move $move, string $made, Progress $progress): void
    {
        $part = $this->folder($move, self::CONVERSION.self::SEALING);
        Folder::discard($part);
        Folder::make($part);
        $files = $bytes = 0;
        foreach (Folder::files($made) as $path) {
            ++$files;
            $bytes += (int) filesize($made.'/'.$path);
        }
        $progress->phase('sealing', $files, $bytes);
        $sealing = new SealedFolder($part, $this->keys->keyFor(self::keyOf(self::CONVERSION, $move)));
        $sealing->sealAll($made, $progress);
        Disk::syncTogether($part);
        foreach (Folder::files($made) as $path) {
            foreach ($sealing->file($path)->pieces() as $_) {
                $progress->advance(0);
            }
        }
        Disk::move($part, $this->folder($move, self::CONVERSION.self::SEALED));
        $this->discardMade($move);
    }

    /**
     * What is meant to arrive.
     *
     * @throws Refusal when it is not as it was written
     */
    public function plan(Move $move): ChatStore
    {
        return OwnFile::read('plan_spoilt', function () use ($move): ChatStore {
            $file = $this->sealedPlan($move);
            if (null === $file) {
                return new ChatStore($this->folder($move, self::CONVERSION.'/'.Conversion::EXPECTED));
            }
            $copy = $this->copies->of($file);

            return new ChatStore($copy->path, behind: $copy);
        });
    }

    /**
     * Holds what is meant to arrive against its hash: before something is held against it.
     *
     * @throws Refusal when it is not as it was written
     */
    public function verifyPlan(Move $move): void
    {
        $sha256 = $move->bringing()->rehearsal()['plan'] ?? null;
        if (null !== $sha256 && $sha256 !== OwnFile::read('plan_spoilt', fn (): ?string => $this->planHash($move))) {
            throw Refusal::because('plan_spoilt');
        }
    }

    /** @return string|null SHA-256; null where it is gone */
    public function planHash(Move $move): ?string
    {
        $open = $this->folder($move, self::CONVERSION.'/'.Conversion::EXPECTED);
        $file = $this->sealedPlan($move);
        if (null === $file) {
            return is_file($open) ? Disk::sha256($open) : null;
        }
        $stream = $file->open();
        try {
            return Disk::sha256Of($stream, $file->of);
        } finally {
            fclose($stream);
        }
    }

    /** Bytes of what is meant to arrive, as a chat store. */
    public function planBytes(Move $move): int
    {
        return $this->sealedPlan($move)?->bytes()
            ?? (int) @filesize($this->folder($move, self::CONVERSION.'/'.Conversion::EXPECTED));
    }

    /** The app’s data as it is to lie on the phone. */
    public function converted(Move $move): Contents
    {
        $sealed = $this->sealedConversion($move);

        return null === $sealed
            ? new FolderContents($this->folder($move, self::CONVERSION.'/'.Conversion::DATA))
            : new SealedContents($sealed, Conversion::DATA.'/', function () use ($move): iterable {
                foreach ($this->manifest($move)->entries() as $file) {
                    yield Conversion::DATA.'/'.$file['path'];
                }
            });
    }

    /** @throws \UnexpectedValueException when there is none, or it is not as it was made */
    public function manifest(Move $move): Manifest
    {
        $sealed = $this->sealedConversion($move);
        if (null === $sealed) {
            return Manifest::read($this->folder($move, self::CONVERSION.'/'.Conversion::MANIFEST));
        }
        try {
            $copy = $this->copies->of($sealed->file(Conversion::MANIFEST));
        } catch (SealBroken $broken) {
            throw new \UnexpectedValueException('The list of files does not unseal.', 0, $broken);
        }

        return Manifest::read($copy->path, $copy);
    }

    /**
     * What was read back from the phone that receives: kept until the hand-over.
     *
     * @param string $store path of a chat store
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function keepReadBack(Move $move, string $store): void
    {
        $this->makeSealed(self::CONVERSION, $move)->put(self::READ_BACK, $store);
        Folder::remove($this->folder($move, self::READ_BACK));
    }

    public function hasReadBack(Move $move): bool
    {
        return true === $this->sealed(self::CONVERSION, $move)?->file(self::READ_BACK)->isThere()
            || is_file($this->folder($move, self::READ_BACK));
    }

    /** @throws Refusal when it is not as it was written */
    public function wasReadBack(Move $move): ChatStore
    {
        return OwnFile::read('read_back_spoilt', function () use ($move): ChatStore {
            $file = $this->sealed(self::CONVERSION, $move)?->file(self::READ_BACK);
            if (true !== $file?->isThere()) {
                return new ChatStore($this->folder($move, self::READ_BACK));
            }
            $copy = $this->copies->of($file);

            return new ChatStore($copy->path, behind: $copy);
        });
    }

    /**
     * The lines of a check.
     *
     * @param string $lines path of an arrival result
     *
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function keepResult(Move $move, string $runId, string $lines): void
    {
        $this->makeSealed(self::CHECKS, $move)->put(self::lines($runId), $lines);
    }

    /**
     * @return Result|null null where they are gone
     *
     * @throws Refusal when they are not as they were written
     */
    public function result(Check $check): ?Result
    {
        $move = $check->move();
        $file = $this->sealed(self::CHECKS, $move)?->file(self::lines($check->runId));
        $open = $this->folder($move, self::CHECKS.'/'.self::lines($check->runId));
        if (true !== $file?->isThere() && !is_file($open)) {
            return null;
        }

        return OwnFile::read('check_spoilt', function () use ($file, $open): Result {
            if (true !== $file?->isThere()) {
                return new Result($open);
            }
            $copy = $this->copies->of($file);

            return new Result($copy->path, $copy);
        });
    }

    /** What was converted, and what was read back: the key of it first. */
    public function clearConversion(Move $move): void
    {
        $this->destroy(self::CONVERSION, $move);
        foreach ([self::CONVERSION, self::READ_BACK] as $open) {
            $path = $this->folder($move, $open);
            // Renamed away first, so that nobody meets half of it.
            Folder::remove($path.'.gone');
            if (file_exists($path)) {
                Disk::move($path, $path.'.gone');
            }
            Folder::remove($path.'.gone');
        }
    }

    /** After the hand-over only the backup stays, and results that hold nothing of what was said or sent. */
    public function dropCopies(Move $move): void
    {
        $this->keepSkeleton($move);
        $this->clearConversion($move);
        $this->discardMade($move);
    }

    /**
     * All keys that a move’s files are under: what lies there opens no more.
     *
     * @throws DiskFailure
     */
    public function destroyAll(Move $move): void
    {
        $this->destroy(self::CONVERSION, $move);
        $this->destroy(self::CHECKS, $move);
        $this->discardMade($move);
    }

    private function keepSkeleton(Move $move): void
    {
        $planned = $this->sealed(self::CONVERSION, $move)?->file(Conversion::EXPECTED);
        $open = $this->folder($move, self::CONVERSION.'/'.Conversion::EXPECTED);
        $isSealed = true === $planned?->isThere();
        if (!$isSealed && !is_file($open)) {
            return;
        }
        $scratch = ScratchFolder::inMemory();
        $store = $scratch->path.'/'.Conversion::EXPECTED;
        try {
            OwnFile::read('plan_spoilt', static function () use ($isSealed, $planned, $open, $store): void {
                $isSealed ? $planned->unseal($store) : Folder::putStream(Disk::open($open, 'r'), $store);
                Skeleton::make($store);
            });
        } catch (Refusal) {
            // Its words can't be taken out of it one by one: so they go with it.
            return;
        }
        $this->makeSealed(self::CHECKS, $move)->put(Conversion::EXPECTED, $store);
    }

    /** @return SealedFolder|null null where it lies open, or is gone: what was read back may be there without it */
    private function sealedConversion(Move $move): ?SealedFolder
    {
        $sealed = $this->sealed(self::CONVERSION, $move);

        return true === $sealed?->file(Conversion::MANIFEST)->isThere() ? $sealed : null;
    }

    /** @return SealedFile|null null where it lies open, or is gone */
    private function sealedPlan(Move $move): ?SealedFile
    {
        foreach ([self::CONVERSION, self::CHECKS] as $what) {
            $file = $this->sealed($what, $move)?->file(Conversion::EXPECTED);
            if (true === $file?->isThere()) {
                return $file;
            }
        }

        return null;
    }

    /** @return SealedFolder|null null where nothing of it lies sealed */
    private function sealed(string $what, Move $move): ?SealedFolder
    {
        $folder = $this->folder($move, $what.self::SEALED);

        return is_dir($folder) && $this->keys->has(self::keyOf($what, $move))
            ? new SealedFolder($folder, $this->keys->key(self::keyOf($what, $move)))
            : null;
    }

    private function makeSealed(string $what, Move $move): SealedFolder
    {
        return new SealedFolder(
            Folder::make($this->folder($move, $what.self::SEALED)), $this->keys->keyFor(self::keyOf($what, $move)),
        );
    }

    private function destroy(string $what, Move $move): void
    {
        $this->keys->destroy(self::keyOf($what, $move));
        $folder = $this->folder($move, $what);
        $this->copies->drop($folder.self::SEALED);
        Folder::discard($folder.self::SEALED);
        Folder::discard($folder.self::SEALING);
    }

    private static function lines(string $runId): string
    {
        return $runId.'.sqlite';
    }

    private static function keyOf(string $what, Move $move): string
    {
        return $what.' '.self::place($move);
    }

    private static function place(Move $move): string
    {
        return $move->tray->number.'-'.$move->place;
    }

    private function folder(Move $move, string $below): string
    {
        return Folder::make($this->data->tray($move->tray->number).'/moves/'.$move->place).'/'.$below;
    }
}
