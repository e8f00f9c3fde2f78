<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/** What a storage format can hold. Loss rules ask this, never the platform's name. */
final readonly class Capabilities
{
    /**
     * @param bool   $sendEffects  shows that play when a message is opened
     * @param bool   $motionParts  the film beside a still
     * @param bool   $quotesOfGone an answered message's words where that message is gone
     * @param string $detailPrefix opaque details under this prefix are the format's own: it holds them as they were
     * @param Messenger $messenger in whose official editions it is written
     * @param int|null $exactTimes milliseconds before and after 1970 UTC within which a time keeps its millisecond;
     *                             null for all
     */
    public function __construct(
        public bool $broadcastLists,
        public bool $heardTimes,
        public bool $wallpapers,
        public bool $sendEffects,
        public bool $motionParts,
        public bool $quotesOfGone,
        public string $detailPrefix,
        public Messenger $messenger,
        public ?int $exactTimes = null,
    ) {
    }
}
