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
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\Manifest;
use Geschenk\Core\Phone\Role;

/**
 * The files that a tray's work leaves.
 *
 * @phpstan-import-type LossArray from Loss
 */
final readonly class TrayFiles
{
    public const EXPECTED = 'expected.sqlite';
    public const CONVERTED = 'data';
    public const REHEARSAL = 'rehearsal.sqlite';
    public const MANIFEST = 'manifest.txt';
    public const PLAN = 'plan.json';

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

    /** What a conversion leaves, in one folder: it appears as a whole, and only with it anything counts as converted. */
    public function conversion(Tray $tray): string
    {
        return $this->data->tray($tray->number).'/conversion';
    }

    /** Where a conversion is being made. */
    public function conversionPart(Tray $tray): string
    {
        return $this->conversion($tray).'.part';
    }

    public function expected(Tray $tray): string
    {
        return $this->conversion($tray).'/'.self::EXPECTED;
    }

    public function converted(Tray $tray): string
    {
        return $this->conversion($tray).'/'.self::CONVERTED;
    }

    public function rehearsal(Tray $tray): string
    {
        return $this->conversion($tray).'/'.self::REHEARSAL;
    }

    /** @throws \UnexpectedValueException when there is none, or it is not as it was made */
    public function manifest(Tray $tray): Manifest
    {
        return Manifest::read($this->conversion($tray).'/'.self::MANIFEST);
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
        clearstatcache();

        return is_file($this->rehearsal($tray)) && is_dir($this->converted($tray));
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

    /**
     * What a conversion was made with and of.
     *
     * @return array{choices: array<string, string>, judged_at: int, backup: string, platform: string, losses: list<LossArray>}|null null when nothing is converted
     */
    public function plan(Tray $tray): ?array
    {
        return self::readPlan($this->conversion($tray).'/'.self::PLAN);
    }

    /** @return array{choices: array<string, string>, judged_at: int, backup: string, platform: string, losses: list<LossArray>}|null */
    public static function readPlan(string $path): ?array
    {
        $plan = is_file($path) ? json_decode((string) file_get_contents($path), true, 16) : null;
        /** @var array{choices: array<string, string>, judged_at: int, backup: string, platform: string, losses: list<LossArray>}|null $plan written by ConversionJob alone */

        return $plan;
    }

    /** @return list<LossArray> */
    public function losses(Tray $tray): array
    {
        return $this->plan($tray)['losses'] ?? [];
    }

    public function clearConversion(Tray $tray): void
    {
        foreach ([$this->conversion($tray), $this->readBack($tray), $this->arrival($tray)] as $path) {
            // Renamed away first, so that nobody meets half of it.
            $gone = $path.'.gone';
            Folder::remove($gone);
            if (file_exists($path)) {
                Disk::move($path, $gone);
            }
            Folder::remove($gone);
        }
    }

    /** After the hand-over only the backup and the results stay; copies of the chats do not. */
    public function dropCopies(Tray $tray): void
    {
        foreach ([$this->converted($tray), $this->conversionPart($tray)] as $path) {
            Folder::remove($path);
        }
    }
}
