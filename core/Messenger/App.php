<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** An app that keeps chats: one official edition of a messenger, under the id that phones know it by. */
final readonly class App
{
    /**
     * @param string $id         as on the phone, for instance "otterpost"
     * @param string $messenger  for instance "Otterpost"
     * @param string $edition    what people call it, and what its databases and our chat stores hold as its edition
     * @param bool   $ofBusiness whether it has labels and ready-made answers
     */
    public function __construct(
        public string $id,
        public string $messenger,
        public string $edition,
        public bool $ofBusiness = false,
    ) {
    }
}
