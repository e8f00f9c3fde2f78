<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Geschenk\Core\Transfer\Offer;

/**
 * What a way in had to offer when the phone was looked at last, and what is known of what is in it.
 *
 * @phpstan-import-type Told from Offer
 *
 * @phpstan-type Held array{conversations: int, messages: int, newest_at: int|null}
 * @phpstan-type Record array{
 *     offer: Told, counts: Held|null, trouble: string|null, trouble_params: array<string, string|int>,
 * }
 */
final readonly class OfferSeen
{
    /**
     * @param Held|null                 $counts  newest_at in milliseconds since 1970 UTC; null where nobody has looked
     *                                           into it, and of what is as the phone is now: that is counted by itself
     * @param string|null               $trouble why it could not be looked into: a code of translations/ under
     *                                           "failure"
     * @param array<string, string|int> $params  of that
     */
    public function __construct(
        public Offer $offer,
        public ?array $counts = null,
        public ?string $trouble = null,
        public array $params = [],
    ) {
    }

    public function isLookedInto(): bool
    {
        return null !== $this->counts || null !== $this->trouble;
    }

    /** @return Record */
    public function record(): array
    {
        return [
            'offer' => $this->offer->told(), 'counts' => $this->counts, 'trouble' => $this->trouble,
            'trouble_params' => $this->params,
        ];
    }

    /** @param Record $record */
    public static function of(array $record): self
    {
        return new self(
            Offer::of($record['offer']), $record['counts'], $record['trouble'], $record['trouble_params'],
        );
    }
}
