<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** A place on the map. */
final readonly class Place implements Content
{
    /**
     * @param float    $latitude  degrees north, WGS 84
     * @param float    $longitude degrees east, WGS 84
     * @param int|null $liveUntil milliseconds since 1970 UTC until which the place was shared live
     */
    public function __construct(
        public float $latitude,
        public float $longitude,
        public ?string $name,
        public ?string $address,
        public ?int $liveUntil,
    ) {
    }

    public function sort(): string
    {
        return 'place';
    }

    public function toArray(): array
    {
        return [
            'latitude' => $this->latitude, 'longitude' => $this->longitude, 'name' => $this->name,
            'address' => $this->address, 'live_until' => $this->liveUntil,
        ];
    }
}
