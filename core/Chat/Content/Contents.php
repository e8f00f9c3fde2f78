<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** Makes contents again from what toArray() gave; the types of the values are checked by the constructors. */
final class Contents
{
    /**
     * @param array<array-key, mixed> $stored
     *
     * @throws \TypeError|\ValueError|\UnexpectedValueException when it is none
     */
    public static function of(string $sort, array $stored): Content
    {
        /** @var array<string, string> $s for the analyser; each constructor looks for itself */
        $s = $stored;

        return match ($sort) {
            'place' => new Place(
                self::real($s['latitude'] ?? null), self::real($s['longitude'] ?? null), $s['name'] ?? null,
                $s['address'] ?? null, self::whole($s['live_until'] ?? null),
            ),
            'contact_cards' => new ContactCards(
                array_map(
                    static fn (array $c): array => [
                        'name' => self::string($c['name'] ?? null), 'vcard' => self::string($c['vcard'] ?? null) ?? '',
                    ],
                    self::maps($stored['cards'] ?? null),
                ),
            ),
            'poll' => new Poll(true === ($stored['several'] ?? null), self::whole(
                $stored['closed_at'] ?? null,
            ), array_map(static fn (array $a): array => [
                'text' => self::string($a['text'] ?? null) ?? '',
                'votes' => array_map(
                    static fn (array $v): array => [
                        'who' => self::string($v['who'] ?? null), 'at' => self::whole($v['at'] ?? null),
                    ],
                    self::maps($a['votes'] ?? null),
                ),
            ], self::maps($stored['answers'] ?? null))),
            'call' => new Call(
                true === ($stored['video'] ?? null), CallOutcome::from($s['outcome'] ?? ''),
                self::whole($stored['duration_ms'] ?? null),
            ),
            'link_preview' => new LinkPreview($s['url'] ?? '', $s['title'] ?? null, $s['description'] ?? null),
            'catalogue_item' => new CatalogueItem(
                $s['article'] ?? '', $s['name'] ?? '', self::whole($stored['price_minor'] ?? null),
                $s['currency'] ?? null,
            ),
            'deletion' => new Deletion($s['by'] ?? null, self::whole($stored['deleted_at'] ?? null)),
            default => throw new \UnexpectedValueException('There is no content called '.$sort),
        };
    }

    /** @return list<array<array-key, mixed>> */
    private static function maps(mixed $value): array
    {
        return is_array($value) ? array_values(array_filter($value, is_array(...))) : [];
    }

    private static function string(mixed $value): ?string
    {
        return is_string($value) ? $value : null;
    }

    private static function whole(mixed $value): ?int
    {
        return is_int($value) ? $value : null;
    }

    private static function real(mixed $value): float
    {
        return is_float($value) || is_int($value)
            ? (float) $value
            : throw new \UnexpectedValueException('A place needs numbers.');
    }
}
