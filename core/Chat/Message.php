<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

use Geschenk\Core\Chat\Content\Content;

/**
 * One message of one conversation. Times are milliseconds since 1970 UTC and may be zero, negative or in the future.
 */
final readonly class Message
{
    /**
     * @param string|null                $wireId      the id under which the messenger's network knows it; may be absent
     * or used twice
     * @param string|null                $senderKey   null with $fromOwner false: nobody in particular, as for a notice
     * @param string|null                $text        bytes as found, usually UTF-8, never repaired
     * @param string|null                $replyTo     wire id of the answered message, which may be gone
     * @param list<Attachment>           $attachments
     * @param list<Reaction>             $reactions
     * @param list<Receipt>              $receipts
     * @param array<string, scalar|null> $opaque      what the reader had no word for, by table.column
     * @param int|null                   $editedAt    when its text was last changed
     * @param int|null                   $expiresAt   when it disappears
     * @param Quote|null                 $quote       the answered message's words, kept only where that message is gone
     * @param list<Mention>              $mentions
     * @param string|null                $effect      name of a show that plays when the message is opened
     */
    public function __construct(
        public ?string $wireId,
        public ?string $senderKey,
        public bool $fromOwner,
        public Kind $kind,
        public ?string $text,
        public int $sentAt,
        public ?int $receivedAt,
        public DeliveryState $state,
        public bool $starred = false,
        public bool $forwarded = false,
        public ?string $replyTo = null,
        public ?Notice $notice = null,
        public array $attachments = [],
        public array $reactions = [],
        public array $receipts = [],
        public array $opaque = [],
        public ?Content $content = null,
        public ?int $editedAt = null,
        public ?int $expiresAt = null,
        public ?ViewOnce $viewOnce = null,
        public ?Quote $quote = null,
        public array $mentions = [],
        public ?string $effect = null,
    ) {
    }

    /** @param array<string, mixed> $changes by property */
    public function with(array $changes): self
    {
        // @phpstan-ignore argument.type (the constructor checks what it is given)
        return new self(...[...get_object_vars($this), ...$changes]);
    }
}
