<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/**
 * A part that is brought first, to see on the phone that all goes well; the rest comes on top of it.
 *
 * @phpstan-type TrialArray array{conversation: string|null, newest: int|null}
 */
final readonly class Trial
{
    /**
     * @param string|null $conversation key of the only one that is brought
     * @param int|null    $newest       messages that are brought of each
     */
    private function __construct(public ?string $conversation, public ?int $newest)
    {
    }

    public static function ofConversation(string $key): self
    {
        return new self($key, null);
    }

    /** @param int $messages at least one */
    public static function ofNewest(int $messages): self
    {
        return new self(null, max(1, $messages));
    }

    /** @return TrialArray with the key in hexadecimal, as in Scope */
    public function toArray(): array
    {
        return [
            'conversation' => null === $this->conversation ? null : bin2hex($this->conversation),
            'newest' => $this->newest,
        ];
    }

    /** @param TrialArray|null $trial as toArray() told it */
    public static function of(?array $trial): ?self
    {
        return null === $trial ? null : new self(
            null === $trial['conversation'] ? null : (string) hex2bin($trial['conversation']), $trial['newest'],
        );
    }
}
