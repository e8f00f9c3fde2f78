<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\PhoneBackup;

use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\CarriedChats;
use Geschenk\Core\Import\CarriedFiles;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Import\Part;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\WholePhone\Head;
use Geschenk\Core\Messenger\WholePhone\PhoneFiles;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\UnusableInput;

/** A backup that a computer made of a whole phone, again and again: of it one messenger, as it was at a date. */
final readonly class PhoneBackupImporter implements Importer
{
    public static function name(): string
    {
        return 'phone_backup';
    }

    public function recognises(string $path): bool
    {
        return Head::recognises($path);
    }

    public function mayHoldOthers(): bool
    {
        return false;
    }

    public function lock(string $path): ?BackupLock
    {
        return Head::lockOf($path);
    }

    /** From outside nobody can tell what of it is a messenger's. */
    public function bytes(string $path): int
    {
        return 0;
    }

    public function fetch(Carried $carried): Fetched
    {
        $scratch = ScratchFolder::inMemory();
        try {
            $carried->reading->listPhone(
                $carried->full(), $carried->key, $scratch->path.'/'.PhoneFiles::FILE, $carried->progress,
                Carried::NAME,
            );
        } catch (UnusableInput $unusable) {
            // What is out is not damaged.
            $carried->root();
            throw $unusable;
        }
        $listed = new PhoneFiles($scratch);
        $parts = array_map(static fn (array $one): Part => new Part(
            $one['id'], $one['title'], self::name(), $one['bytes'], intdiv($one['taken_ms'], 1000),
        ), $listed->messengers());
        $messenger = $carried->chosen->of(
            [] === $parts ? throw UnusableInput::noMessengerOnPhone(Carried::NAME) : $parts,
        )->id;
        $files = new CarriedFiles($carried, new InPhoneBackup($listed, $carried->path, $messenger));
        $carried->progress->phase('pulling_files');
        foreach ($listed->chatFiles($messenger) as $path) {
            // Without the rest of them nobody knows what the chats were. What has come before the computer wrote its
            // index anew does not go together with what it lists now.
            $promised = $listed->file($messenger, $path)['sha256'] ?? null;
            if (null === $promised || $promised !== $files->bring($path)) {
                throw UnusableInput::phoneBackupBroken(
                    Carried::NAME, null === $promised ? 'missing' : 'changed', $path,
                );
            }
        }
        $files->note();

        return new CarriedChats($carried->place->raw(), $files, $listed->faults($messenger));
    }
}
