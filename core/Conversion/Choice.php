<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/** One of the ways in which something can go across that the receiving format can't hold as it is. */
final readonly class Choice
{
    /**
     * @param string $key   in snake_case, the same in API and command line
     * @param string $words for the technician to say to the customer
     */
    public function __construct(public string $key, public string $words, public Outcome $outcome)
    {
    }

    /** @return array{key: string, words: string} */
    public function toArray(): array
    {
        return ['key' => $this->key, 'words' => $this->words];
    }
}
