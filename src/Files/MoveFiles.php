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
use Geschenk\Core\Conversion\Conversion;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Skeleton;
use Geschenk\Core\UnusableInput;

/** Where the files lie that a move’s work leaves. Whether they count is told by the records alone. */
final readonly class MoveFiles
{
    public function __construct(private DataFolder $data, private Vault $vault)
    {
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

    /** What a conversion leaves, in one folder that appears as a whole. */
    public function conversion(Move $move): string
    {
        return $this->folder($move).'/conversion';
    }

    /** Where a conversion is being made. */
    public function conversionPart(Move $move): string
    {
        return $this->conversion($move).'.part';
    }

    public function expected(Move $move): string
    {
        return $this->conversion($move).'/'.Conversion::EXPECTED;
    }

    /**
     * What is meant to arrive.
     *
     * @throws Refusal when it is not as it was written
     */
    public function plan(Move $move): ChatStore
    {
        return OwnFile::read('plan_spoilt', fn (): ChatStore => new ChatStore($this->expected($move)));
    }

    /**
     * Holds what is meant to arrive against its hash: before something is held against it.
     *
     * @throws Refusal when it is not as it was written
     */
    public function verifyPlan(Move $move): void
    {
        $sha256 = $move->bringing()->rehearsal()['plan'] ?? null;
        if (null !== $sha256 && $sha256 !== $this->planHash($move)) {
            throw Refusal::because('plan_spoilt');
        }
    }

    /** @return string|null SHA-256; null where it is gone */
    public function planHash(Move $move): ?string
    {
        return is_file($this->expected($move)) ? Disk::sha256($this->expected($move)) : null;
    }

    public function converted(Move $move): string
    {
        return $this->conversion($move).'/'.Conversion::DATA;
    }

    /** @throws \UnexpectedValueException when there is none, or it is not as it was made */
    public function manifest(Move $move): Manifest
    {
        return Manifest::read($this->conversion($move).'/'.Conversion::MANIFEST);
    }

    public function readBack(Move $move): string
    {
        return $this->folder($move).'/read-back.sqlite';
    }

    /** @throws Refusal when it is not as it was written */
    public function wasReadBack(Move $move): ChatStore
    {
        return OwnFile::read('read_back_spoilt', fn (): ChatStore => new ChatStore($this->readBack($move)));
    }

    /** The list of what is put back onto the phone that receives. */
    public function putBack(Move $move): string
    {
        return $this->folder($move).'/put-back.manifest';
    }

    /** Where the lines of a check lie. */
    public function arrival(Check $check): string
    {
        return $this->arrivalOf($check->move(), $check->runId);
    }

    public function arrivalOf(Move $move, string $runId): string
    {
        return Folder::make($this->folder($move).'/checks').'/'.$runId.'.sqlite';
    }

    public function clearConversion(Move $move): void
    {
        foreach ([$this->conversion($move), $this->readBack($move)] as $path) {
            // Renamed away first, so that nobody meets half of it.
            $gone = $path.'.gone';
            Folder::remove($gone);
            if (file_exists($path)) {
                Disk::move($path, $gone);
            }
            Folder::remove($gone);
        }
    }

    /** After the hand-over only the backup stays, and results that hold nothing of what was said or sent. */
    public function dropCopies(Move $move): void
    {
        if (is_file($this->expected($move))) {
            try {
                OwnFile::read('plan_spoilt', fn () => Skeleton::make($this->expected($move)));
            } catch (Refusal) {
                // Its words can't be taken out of it one by one: so they go with it.
                Folder::remove($this->expected($move));
            }
        }
        foreach ([$this->converted($move), $this->conversionPart($move), $this->readBack($move)] as $path) {
            Folder::remove($path);
        }
    }

    private function folder(Move $move): string
    {
        return Folder::make($this->data->tray($move->tray->number).'/moves/'.$move->place);
    }
}
