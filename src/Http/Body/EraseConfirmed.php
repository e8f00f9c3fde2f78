<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** The number of the tray whose chats are erased, as somebody typed it. */
final readonly class EraseConfirmed
{
    public function __construct(
        #[Text(20)]
        public string $number = '',
    ) {
    }
}
