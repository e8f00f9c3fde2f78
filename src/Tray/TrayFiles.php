<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Tray;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\Role;

/**
 * The files that a tray's work leaves.
 *
 * @phpstan-import-type LossArray from Loss
 */
final readonly class TrayFiles
{
    public function __construct(private DataFolder $data, private EntityManagerInterface $entities)
    {
    }

    /** The newest backup of the phone that gives now; after a change of roles an earlier one counts no more. */
    public function backup(Tray $tray): ?Backup
    {
        return $this->entities->getRepository(Backup::class)->findOneBy(['tray' => $tray, 'serial' => $tray->phone(Role::Gives)->serial], ['takenAt' => 'DESC']);
    }

    public function backupFolder(Tray $tray): ?string
    {
        $backup = $this->backup($tray);

        return null === $backup ? null : $this->data->backup($backup->id);
    }

    public function expected(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/expected.sqlite';
    }

    public function converted(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/converted';
    }

    public function rehearsedStore(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/rehearsed.sqlite';
    }

    public function rehearsal(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/rehearsal.sqlite';
    }

    public function readBack(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/read-back.sqlite';
    }

    public function arrival(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/arrival.sqlite';
    }

    /** @phpstan-impure */
    public function isConverted(Tray $tray): bool
    {
        return is_dir($this->converted($tray)) && is_file($this->rehearsal($tray));
    }

    /** How the rehearsal tallied; null when nothing is converted. */
    public function rehearsed(Tray $tray): ?Totals
    {
        return $this->whileConverted($tray, fn (): Totals => (new Result($this->rehearsal($tray)))->totals());
    }

    /**
     * Reads files of a conversion, which a worker may be making anew at this moment.
     *
     * @template T
     *
     * @param callable(): T $read
     *
     * @return T|null null when there is none, or none any more
     */
    public function whileConverted(Tray $tray, callable $read): mixed
    {
        if (!$this->isConverted($tray)) {
            return null;
        }
        try {
            return $read();
        } catch (\Exception $error) {
            clearstatcache();
            if (!$this->isConverted($tray)) {
                return null;
            }
            throw $error;
        }
    }

    /** @param list<Loss> $losses */
    public function keepLosses(Tray $tray, array $losses): void
    {
        file_put_contents($this->lossFile($tray), json_encode(array_map(static fn (Loss $loss): array => $loss->toArray(), $losses), \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE));
    }

    /** @return list<LossArray> */
    public function losses(Tray $tray): array
    {
        /** @var list<LossArray> $losses written by keepLosses() alone */
        $losses = is_file($this->lossFile($tray)) ? json_decode((string) file_get_contents($this->lossFile($tray)), true, 8, \JSON_THROW_ON_ERROR) : [];

        return $losses;
    }

    public function clearConversion(Tray $tray): void
    {
        // The rehearsal first: without it nothing counts as converted, whoever looks meanwhile.
        foreach ([$this->rehearsal($tray), $this->expected($tray), $this->converted($tray), $this->converted($tray).'.part', $this->rehearsedStore($tray), $this->readBack($tray), $this->arrival($tray), $this->lossFile($tray)] as $path) {
            Folder::remove($path);
        }
    }

    /** After the hand-over only the backup and the results stay; copies of the chats do not. */
    public function dropCopies(Tray $tray): void
    {
        foreach ([$this->converted($tray), $this->rehearsedStore($tray)] as $path) {
            Folder::remove($path);
        }
    }

    private function lossFile(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/losses.json';
    }
}
