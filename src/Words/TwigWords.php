<?php

declare(strict_types=1);

namespace Geschenk\App\Words;

use Geschenk\App\Shop;
use Twig\Extension\AbstractExtension;
use Twig\TwigFilter;

/** Words, moments and numbers in the language that a template names. */
final class TwigWords extends AbstractExtension
{
    public function __construct(private readonly Words $words)
    {
    }

    public function getFilters(): array
    {
        return [
            new TwigFilter('say', $this->say(...)),
            new TwigFilter('moment', $this->moment(...)),
            new TwigFilter('count', self::count(...)),
        ];
    }

    /** @param array<string, string|int> $params */
    public function say(string $key, string $language, array $params = []): string
    {
        return $this->words->say($key, $params, $language);
    }

    /** Day and time in the shop's zone, as the interface writes them (web/lib/format.ts). */
    public function moment(\DateTimeInterface $at, string $language): string
    {
        $there = \DateTimeImmutable::createFromInterface($at)->setTimezone(new \DateTimeZone(Shop::ZONE));
        $month = $this->words->say('month.m'.$there->format('n'), [], $language);
        $date = $this->words->say('date.day', [
            'day' => $there->format('j'), 'month' => $month, 'year' => $there->format('Y'),
        ], $language);

        return $this->words->say('date.moment', ['date' => $date, 'time' => $there->format('H:i')], $language);
    }

    public static function count(int $value, string $language): string
    {
        return (string) (new \NumberFormatter($language, \NumberFormatter::DECIMAL))->format($value);
    }
}
