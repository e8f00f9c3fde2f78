<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneUnplugged;

/** All stand-in phones: the folders below one folder. */
final class Bench implements PhoneDirectory
{
    public function __construct(private readonly string $folder)
    {
    }

    public function serials(): array
    {
        $serials = array_map(
            static fn (string $file): string => basename(dirname($file)), glob($this->folder.'/*/phone.json') ?: [],
        );
        sort($serials);

        return $serials;
    }

    public function link(string $serial): PhoneLink
    {
        return new FolderPhoneLink($this->phone($serial));
    }

    /** @throws PhoneUnplugged when there is no such phone */
    public function phone(string $serial): PhoneFolder
    {
        if (1 !== preg_match('/^[A-Z0-9]{4,20}$/', $serial) || !is_file($this->folder.'/'.$serial.'/phone.json')) {
            throw PhoneUnplugged::of($serial);
        }

        return new PhoneFolder($this->folder.'/'.$serial);
    }
}
