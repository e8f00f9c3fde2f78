<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

/** Messages of one conversation that are written together, and where they go. */
final readonly class SlipRange
{
    /**
     * @param int $conversation in the chat store
     * @param int $room         Z_PK of the room
     * @param int $from         id of the first message
     * @param int $to           the id after the last
     * @param int $slip         the highest Z_PK so far
     * @param int $place        the highest ZPLACE of the room
     */
    public function __construct(
        public int $conversation,
        public int $room,
        public int $from,
        public int $to,
        public int $slip,
        public int $place,
    ) {
    }
}
