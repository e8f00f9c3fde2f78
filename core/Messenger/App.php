<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** An app that keeps chats: one edition of a messenger, under the id that phones know it by. */
final readonly class App
{
    /**
     * @param string $id      as on the phone, for instance "otterpost"
     * @param string $edition what people call it, and what its databases and our chat stores hold as its edition
     */
    public function __construct(public string $id, public string $edition)
    {
    }
}
