<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Guide\Guides;
use Geschenk\App\Words\Language;
use Geschenk\Core\Phone\PhoneState;

/**
 * The steps of a guide, in the language of whoever reads.
 *
 * @phpstan-import-type Picture from Guides
 */
final readonly class GuideView
{
    public function __construct(private Guides $guides, private Language $language)
    {
    }

    /** @return list<array{say: string, picture: Picture}>|null */
    public function of(PhoneState $phone, string $point): ?array
    {
        $steps = $this->guides->find($phone, $point);
        $language = $this->language->current();

        return null === $steps ? null : array_map(static fn (array $step): array => [
            'say' => $step['say'][$language] ?? $step['say'][Language::DEFAULT] ?? '', 'picture' => $step['picture'],
        ], $steps);
    }
}
