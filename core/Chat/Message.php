<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** One message of one conversation. Times are milliseconds since 1970 UTC and may be zero, negative or in the future. */
final readonly class Message
{
    /**
     * @param string|null                $wireId      the id under which the messenger's network knows it; may be absent or used twice
     * @param string|null                $senderKey   null with $fromOwner false: nobody in particular, as for a notice
     * @param string|null                $text        bytes as found, usually UTF-8, never repaired
     * @param string|null                $replyTo     wire id of the answered message, which may be gone
     * @param list<Attachment>           $attachments
     * @param list<Reaction>             $reactions
     * @param list<Receipt>              $receipts
     * @param array<string, scalar|null> $opaque      what the reader had no word for, by table.column
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
    ) {
    }

    /** @param list<Receipt> $receipts */
    public function withReceipts(array $receipts): self
    {
        return new self($this->wireId, $this->senderKey, $this->fromOwner, $this->kind, $this->text, $this->sentAt, $this->receivedAt, $this->state, $this->starred, $this->forwarded, $this->replyTo, $this->notice, $this->attachments, $this->reactions, $receipts, $this->opaque);
    }

    /**
     * What stays the same when a message travels, used to find its counterpart: the wire id, or, without one, what was
     * said by whom and when.
     */
    public function identity(): string
    {
        return null !== $this->wireId && '' !== $this->wireId
            ? 'w:'.$this->wireId
            : 'c:'.hash('sha256', implode("\0", [(string) $this->sentAt, $this->senderKey ?? '', $this->fromOwner ? '1' : '0', $this->kind->value, $this->text ?? '']));
    }

    /**
     * The parts of a message that are compared one by one, each in a form that is the same on every platform.
     *
     * @return array<string, mixed>
     */
    public function aspects(): array
    {
        $reactions = array_map(static fn (Reaction $r): array => $r->canonical(), $this->reactions);
        $receipts = array_map(static fn (Receipt $r): array => $r->canonical(), $this->receipts);
        sort($reactions);
        sort($receipts);
        $opaque = $this->opaque;
        ksort($opaque);

        return [
            'text' => $this->text,
            'sender' => [$this->senderKey, $this->fromOwner],
            'kind' => $this->kind->value,
            'sent_at' => $this->sentAt,
            'received_at' => $this->receivedAt,
            'state' => $this->state->value,
            'flags' => [$this->starred, $this->forwarded],
            'reply' => $this->replyTo,
            'notice' => $this->notice?->canonical(),
            'attachments' => array_map(static fn (Attachment $a): array => $a->canonical(), $this->attachments),
            'reactions' => $reactions,
            'receipts' => $receipts,
            'opaque' => $opaque,
        ];
    }

    /** SHA-256 over all aspects, 32 raw bytes. serialize() is used because it keeps bytes that JSON would refuse. */
    public function digest(): string
    {
        return hash('sha256', serialize($this->aspects()), true);
    }
}
