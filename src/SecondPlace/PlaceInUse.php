<?php

declare(strict_types=1);

namespace Geschenk\App\SecondPlace;

use Geschenk\Core\SecondPlace\Place;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** The second place that this installation was told of, if any. */
final readonly class PlaceInUse
{
    /** @param string $address as PlaceAddress has it; empty for none */
    public function __construct(
        #[Autowire('%env(GESCHENK_SECOND_PLACE)%')] #[\SensitiveParameter]
        private string $address,
    ) {
    }

    public function isSet(): bool
    {
        return '' !== $this->address;
    }

    /** @throws PlaceFailure where none was told, or what was told is no address */
    public function place(): Place
    {
        try {
            return $this->isSet() ? PlaceAddress::parse($this->address)->place() : throw PlaceFailure::none();
        } catch (\ValueError) {
            throw PlaceFailure::noAddress();
        }
    }
}
