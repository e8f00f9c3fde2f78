<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** Something that a business offers. */
final readonly class CatalogueItem implements Content
{
    /**
     * @param int|null    $priceMinor in the currency's smallest unit
     * @param string|null $currency   three letters, ISO 4217
     */
    public function __construct(
        public string $article,
        public string $name,
        public ?int $priceMinor,
        public ?string $currency,
    ) {
    }

    public function sort(): string
    {
        return 'catalogue_item';
    }

    public function toArray(): array
    {
        return [
            'article' => $this->article, 'name' => $this->name, 'price_minor' => $this->priceMinor,
            'currency' => $this->currency,
        ];
    }
}
