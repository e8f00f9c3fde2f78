<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** People's cards, each a name to show and a vCard (RFC 6350) as it was sent. */
final readonly class ContactCards implements Content
{
    /** @param list<array{name: string|null, vcard: string}> $cards */
    public function __construct(public array $cards)
    {
    }

    public function sort(): string
    {
        return 'contact_cards';
    }

    public function toArray(): array
    {
        return ['cards' => $this->cards];
    }
}
