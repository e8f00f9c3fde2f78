<?php

declare(strict_types=1);

namespace Geschenk\Core\Arrival;

/** The four accounts of the messages that were expected, and what came on top. */
final readonly class Totals
{
    public function __construct(
        public int $conversations,
        public int $messages,
        public int $arrived,
        public int $changed,
        public int $leftOut,
        public int $missing,
        public int $extra,
        public int $settingsDiffering,
    ) {
        if ($arrived + $changed + $leftOut + $missing !== $messages) {
            throw new \LogicException(sprintf('The accounts do not add up: %d + %d + %d + %d is not %d.', $arrived, $changed, $leftOut, $missing, $messages));
        }
    }

    /** Whether everything that was meant to arrive is there, and nothing else. */
    public function complete(): bool
    {
        return 0 === $this->missing && 0 === $this->extra && 0 === $this->settingsDiffering;
    }

    /** @return array{conversations: int, messages: int, arrived: int, changed: int, left_out: int, missing: int, extra: int, settings_differing: int, complete: bool} */
    public function toArray(): array
    {
        return [
            'conversations' => $this->conversations, 'messages' => $this->messages, 'arrived' => $this->arrived, 'changed' => $this->changed, 'left_out' => $this->leftOut,
            'missing' => $this->missing, 'extra' => $this->extra, 'settings_differing' => $this->settingsDiffering, 'complete' => $this->complete(),
        ];
    }
}
