<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Store\ChatStore;

/** What an account on a phone shows people's names in. */
final readonly class Shown
{
    /**
     * @param string        $ownNumber of the account, E.164
     * @param TagFiles|null $copy      of the safety copy that the way back of what was brought leads to
     */
    public function __construct(public ChatStore $chats, public string $ownNumber, public ?TagFiles $copy)
    {
    }
}
