<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What a storage format can hold. Loss rules ask this, never the platform's name. */
final readonly class Capabilities
{
    /**
     * @param string $detailPrefix opaque details under this prefix are the format's own: it holds them as they were
     */
    public function __construct(
        public bool $broadcastLists,
        public bool $heardTimes,
        public bool $wallpapers,
        public string $detailPrefix,
    ) {
    }
}
