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

    /** @return array<string, list<array{say: string, picture: Picture}>> by id of a point */
    public function of(?PhoneState $phone): array
    {
        $language = $this->language->current();

        return null === $phone ? [] : array_map(static fn (array $steps): array => array_map(
            static fn (array $step): array => [
                'say' => $step['say'][$language] ?? $step['say'][Language::DEFAULT] ?? '',
                'picture' => $step['picture'],
            ], $steps,
        ), $this->guides->of($phone));
    }
}
