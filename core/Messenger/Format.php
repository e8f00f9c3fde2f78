<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Platform;
use Geschenk\Core\UnusableInput;

/** One storage format of one messenger on one platform. Implementations live in Messenger/<Name>/<Platform>/. */
interface Format
{
    /** Whose chats it holds; any of the messenger's apps may have its data. */
    public function messenger(): Messenger;

    public function platform(): Platform;

    /**
     * Whether the files in the folder are of this format, judged by the data and not by the folder's name.
     *
     * @throws UnusableInput when they are, and can't be used: damaged, cut short, of an unknown generation
     */
    public function detect(string $folder): bool;

    /** Which of an app's files are the format's own; all others belong to messages. */
    public function chatFiles(): ChatFiles;

    public function capabilities(): Capabilities;

    public function reader(): Reader;

    public function writer(): ?Writer;
}
