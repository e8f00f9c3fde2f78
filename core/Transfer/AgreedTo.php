<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

/** What somebody has agreed to before a phone is written to. */
final readonly class AgreedTo
{
    /**
     * @param string   $tag        the receiving phone's
     * @param string   $typed      that tag as the technician typed it
     * @param int|null $replaces   messages that are lost there
     * @param int|null $unreadable messages there that can't be read
     */
    public function __construct(
        public string $tag,
        public string $typed,
        public ?int $replaces = null,
        public ?int $unreadable = null,
    ) {
    }
}
