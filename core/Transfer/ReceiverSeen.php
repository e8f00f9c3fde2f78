<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

/** What was seen of the phone that receives, just before it is written to. */
final readonly class ReceiverSeen
{
    /**
     * @param string      $mark          PhoneLink::mark() from before the rest was read
     * @param int         $conversations what it holds
     * @param int         $messages      what it holds
     * @param string|null $copied        mark of the data that a safety copy is complete of; of what is merged that is
     *                                   the data that was merged
     * @param Unreadable  $unreadable    what of it can't be read
     */
    public function __construct(
        public string $mark,
        public int $conversations = 0,
        public int $messages = 0,
        public ?string $copied = null,
        public Unreadable $unreadable = new Unreadable(),
    ) {
    }
}
