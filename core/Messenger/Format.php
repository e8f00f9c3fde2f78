<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Platform;
use Geschenk\Core\UnusableInput;

/** One storage format of one messenger on one platform. Implementations live in Messenger/<Name>/<Platform>/. */
interface Format
{
    /** The messenger's name, for instance "Otterpost". */
    public function messenger(): string;

    /** @return non-empty-list<App> the apps whose data it may be */
    public function apps(): array;

    public function platform(): Platform;

    /**
     * Whether the files in the folder are of this format, judged by the data and not by the folder's name.
     *
     * @throws UnusableInput when they are, and can't be used: damaged, cut short, of an unknown generation
     */
    public function detect(string $folder): bool;

    /**
     * The files that hold the chats themselves, relative to the data folder, in the order in which to pull them. A
     * write-ahead log comes after its database.
     *
     * @return list<string>
     */
    public function databaseFiles(): array;

    public function capabilities(): Capabilities;

    public function reader(): Reader;

    public function writer(): ?Writer;
}
