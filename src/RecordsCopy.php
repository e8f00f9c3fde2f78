<?php

declare(strict_types=1);

namespace Geschenk\App;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;

/** A copy of the records as they are at one moment, what lies in the write-ahead log included. */
final readonly class RecordsCopy
{
    /** What one beside the records is called: when it was made. */
    public const NAME = 'Ymd-His';

    public function __construct(private DataFolder $data)
    {
    }

    /** @param string $path has its name once it is whole and on the disk */
    public function make(string $path): void
    {
        $part = $path.'.part';
        @unlink($part);
        $database = new \SQLite3($this->data->records(), \SQLITE3_OPEN_READWRITE);
        $database->enableExceptions(true);
        $database->busyTimeout(15_000);
        $copy = $database->prepare('VACUUM INTO ?') ?: throw DiskFailure::at('write', $part);
        $copy->bindValue(1, $part, \SQLITE3_TEXT);
        $copy->execute();
        $database->close();
        Disk::sync($part);
        Disk::move($part, $path);
    }

    /** Those beside the records that were made earlier: they tell of people whom the records have forgotten since. */
    public function sweep(\DateTimeImmutable $before): void
    {
        foreach (glob($this->data->copies().'/*.sqlite') ?: [] as $path) {
            if (basename($path, '.sqlite') < $before->format(self::NAME)) {
                Folder::remove($path);
            }
        }
    }
}
