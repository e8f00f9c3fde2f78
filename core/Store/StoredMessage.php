<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Message;

/** A message with its place in a chat store. */
final readonly class StoredMessage
{
    /**
     * @param int          $place  running number in the conversation, from 1
     * @param list<string> $rules  names of the loss rules that apply to it
     * @param int|null     $origin id of the message of which this one is a copy
     * @param int          $textBytes of the whole text, of which a glimpse has the beginning
     */
    public function __construct(
        public int $id,
        public int $place,
        public Message $message,
        public Fate $fate,
        public array $rules,
        public ?int $origin = null,
        public int $textBytes = 0,
    ) {
    }
}
