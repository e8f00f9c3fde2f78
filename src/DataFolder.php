<?php

declare(strict_types=1);

namespace Geschenk\App;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;

/** Where the shop keeps what is not in its database: backups, converted chats, stand-in phones. */
final readonly class DataFolder
{
    public function __construct(public string $path)
    {
    }

    /**
     * What a failure tells, without where this folder lies: on a screen that is nobody's affair.
     *
     * @param array<string, string|int> $fields as in Failure::$fields
     *
     * @return array<string, string|int>
     */
    public function withoutPlace(array $fields): array
    {
        $places = [rtrim($this->path, '/').'/', ...array_map(
            static fn (string $place): string => $place.'/', ScratchFolder::places(),
        )];

        return array_map(
            static fn (string|int $value): string|int => is_string($value) ? str_replace($places, '', $value) : $value,
            $fields,
        );
    }

    public function records(): string
    {
        return $this->path.'/shop.sqlite';
    }

    /** Of the records, made before they are carried to another version. */
    public function copies(): string
    {
        return $this->path.'/copies';
    }

    public function phones(): string
    {
        return Folder::make($this->path.'/standin/phones');
    }

    /** What the shelf has shown, to be shown again where nothing has changed; nothing is lost with it. */
    public function pictures(): string
    {
        return Folder::make($this->path.'/pictures');
    }

    /** The keys of what is kept, each under the shop's or its customer's. */
    public function keys(): string
    {
        return $this->path.'/keys';
    }

    /** What the vault keeps. */
    public function backups(): string
    {
        return Folder::make($this->path.'/backups');
    }

    /** Where copies that are taken home are made, of which there are too large ones for memory. */
    public function readingCopies(): string
    {
        return $this->path.'/reading';
    }

    /** Where what is converted and read back lies while that is done, of which there is too much for memory. */
    public function workings(): string
    {
        return $this->path.'/workings';
    }

    /** Where archives that are imported are unpacked, of which there are too large ones for memory. */
    public function imports(): string
    {
        return $this->path.'/imports';
    }

    /** Where what browsers send lies until it is imported, of which there is too much for memory. */
    public function uploads(): string
    {
        return $this->path.'/uploads';
    }

    public function tray(int $number): string
    {
        return Folder::make($this->path.'/trays/'.$number);
    }
}
