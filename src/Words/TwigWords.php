<?php

declare(strict_types=1);

namespace Geschenk\App\Words;

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
            new TwigFilter('moment', $this->words->moment(...)),
            new TwigFilter('count', self::count(...)),
        ];
    }

    /** @param array<string, string|int> $params */
    public function say(string $key, string $language, array $params = []): string
    {
        return $this->words->say($key, $params, $language);
    }

    public static function count(int $value, string $language): string
    {
        return (string) (new \NumberFormatter($language, \NumberFormatter::DECIMAL))->format($value);
    }
}
