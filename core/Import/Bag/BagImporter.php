<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\Bag;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Import\Below;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\CarriedFiles;
use Geschenk\Core\Import\CarriedStore;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\UnusableInput;

/** A backup of ours that lies open: a bag with the chats and the files as they were pulled. */
final readonly class BagImporter implements Importer
{
    private const CHATS = Bag::PAYLOAD.'/'.StoreSchema::FILE_NAME;
    private const RAW = Workplace::RAW.'/';
    private const CAME = Workplace::CAME.'/';

    public static function name(): string
    {
        return 'backup';
    }

    public function recognises(string $path): bool
    {
        return Bag::recognises($path) && is_file($path.'/'.self::CHATS);
    }

    public function mayHoldOthers(): bool
    {
        return false;
    }

    public function lock(string $path): BackupLock
    {
        return BackupLock::Open;
    }

    public function bytes(string $path): int
    {
        return Bag::oxum($path)[0] ?? 0;
    }

    public function fetch(Carried $carried): Fetched
    {
        $above = '' === $carried->path ? '' : $carried->path.'/';
        $files = new CarriedFiles($carried, new Below($above.Workplace::RAW));
        [$bytes, $count] = Bag::oxum($carried->full()) ?? [0, 0];
        $carried->progress->phase('pulling_files', $count, $bytes);
        $chats = null;
        try {
            foreach (Bag::promised($carried->full()) as ['path' => $path, 'sha256' => $promised]) {
                if (str_starts_with($path, self::RAW)) {
                    $sha256 = $files->bring(substr($path, strlen(self::RAW)));
                } elseif (self::CHATS === $path) {
                    [$chats, $sha256] = $files->keep($above.$path, StoreSchema::FILE_NAME);
                } elseif (str_starts_with($path, self::CAME) && !str_contains(substr($path, strlen(self::CAME)), '/')) {
                    // It was imported once before: what it was imported from stays with it.
                    [, $sha256] = $files->keep($above.$path, substr($path, strlen(self::CAME)));
                } else {
                    $sha256 = $files->hashOf($above.$path);
                }
                if ($promised !== $sha256) {
                    throw UnusableInput::backupBroken(Carried::NAME, null === $sha256 ? 'missing' : 'changed', $path);
                }
                $carried->progress->advance(1);
            }
        } catch (UnusableInput $broken) {
            // What is out is not broken.
            $carried->root();
            throw $broken;
        }
        $files->note();

        return new CarriedStore(
            $chats ?? throw UnusableInput::backupBroken(Carried::NAME, 'missing', self::CHATS), $files,
            // All of it came already.
            static fn (string $store) => null,
        );
    }
}
