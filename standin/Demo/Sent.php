<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Chat\Attachment;

/** What a message that its owner sends carries beside its text. */
final readonly class Sent
{
    /**
     * @param list<Attachment> $attachments
     * @param string|null      $reply       wire id of the message that it answers
     */
    public function __construct(
        public array $attachments = [],
        public ?string $reply = null,
        public bool $isForwarded = false,
    ) {
    }
}
