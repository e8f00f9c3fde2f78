<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Zip\Unzipping;
use Geschenk\Core\Messenger\WholePhone\IndexReading;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\Lines\LinesReader;
use Geschenk\Core\Store\SoundStore;
use Geschenk\Core\Store\StoreTakeOver;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;

/** Reads in this process: what ReadingApart's process does, and what tests of formats do. */
final class ReadingHere implements ChatReading
{
    public function __construct(private readonly Formats $formats = new Formats())
    {
    }

    public function read(
        string $folder,
        AttachmentFiles $files,
        string $store,
        Progress $progress,
        ?string $name = null,
    ): Format {
        $format = $this->formats->detect($folder) ?? throw UnusableInput::notMessengerData($name ?? $folder);
        $writer = new StoreWriter($store);
        $format->reader()->read($folder, $files, $writer, $progress);
        $writer->finish();

        return $format;
    }

    public function unpack(string $path, ?BackupKey $key, string $folder, ?string $name = null): void
    {
        foreach ($this->formats->all() as $format) {
            if ($format instanceof LocalBackups && $format->isLocalBackup($path)) {
                $format->openLocalBackup($path, $key, Folder::make($folder), $name);

                return;
            }
        }
        throw UnusableInput::notMessengerData($name ?? $path);
    }

    public function takeOver(string $path, string $store, Progress $progress, ?string $name = null): void
    {
        try {
            if (LinesReader::recognises($path)) {
                LinesReader::read($path, $store);

                return;
            }
            StoreTakeOver::take($path, $store, $progress);
            SoundStore::ensure($store, $path, $progress);
        } catch (UnusableInput $unusable) {
            Folder::remove($store);
            throw $unusable->named($path, $name);
        }
    }

    public function listPhone(
        string $folder,
        ?BackupKey $key,
        string $list,
        Progress $progress,
        ?string $name = null,
    ): void {
        IndexReading::list($folder, $key, $list, $name, $this->formats);
    }

    public function unzip(
        string $path,
        #[\SensitiveParameter] ?string $password,
        string $folder,
        Progress $progress,
        ?string $name = null,
    ): void {
        Unzipping::unpack($path, $password, $folder, $progress, $name);
    }
}
