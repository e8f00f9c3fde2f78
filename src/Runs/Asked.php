<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

/** What is told when a run is asked for; each kind takes what is its own. */
final readonly class Asked
{
    /**
     * @param string|null $confirmedTag the receiving phone's tag as it was typed, where it is written to
     * @param int|null    $replaces     messages that are lost on the phone, as they were shown and agreed to
     * @param int|null    $unreadable   messages on the phone that can't be read, as they were shown and agreed to
     * @param string|null $offer        id of the offer of a way in that is taken; null for what is proposed
     * @param string|null  $key          opens that, where it is locked; or locks what is made
     * @param OwnWish|null $own          what one kind alone is asked
     */
    public function __construct(
        public ?string $confirmedTag = null,
        public ?int $replaces = null,
        public ?int $unreadable = null,
        public ?string $offer = null,
        #[\SensitiveParameter] public ?string $key = null,
        public ?OwnWish $own = null,
    ) {
    }

    public function withTag(string $tag): self
    {
        return new self($tag, $this->replaces, $this->unreadable, $this->offer, $this->key, $this->own);
    }
}
