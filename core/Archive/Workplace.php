<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Store\StoreSchema;

/** The folder in which a backup is made, and what lies where in it. */
final readonly class Workplace
{
    /** What was pulled; the same as in a bag that is kept. */
    public const RAW = Bag::PAYLOAD.'/raw';
    /** What held the chats and is no messenger's, as it came. */
    public const CAME = Bag::PAYLOAD.'/came';

    public function __construct(public string $folder)
    {
    }

    /** The folder for what is kept as it came: names below it are those that the messenger's data folder has. */
    public function raw(): string
    {
        return $this->folder.'/'.self::RAW;
    }

    /** Where a file lies that held the chats and was no messenger's, as it came; the same in a bag that is kept. */
    public function came(string $name): string
    {
        return $this->folder.'/'.self::CAME.'/'.$name;
    }

    /** The chats that are read out of it. */
    public function chats(): string
    {
        return $this->folder.'/'.Bag::PAYLOAD.'/'.StoreSchema::FILE_NAME;
    }

    /** What has come, for whoever goes on. */
    public function journal(): string
    {
        return $this->folder.'/pull.sqlite';
    }

    /** A file for what has come of one that is not whole yet. */
    public function piece(): string
    {
        return $this->folder.'/piece';
    }

    /** Bytes that have come already. */
    public function bytesThere(): int
    {
        $bytes = 0;
        foreach (is_dir($this->raw()) ? Folder::files($this->folder, self::RAW) : [] as $path) {
            $bytes += (int) filesize($this->folder.'/'.$path);
        }

        return $bytes;
    }
}
