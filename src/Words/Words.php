<?php

declare(strict_types=1);

namespace Geschenk\App\Words;

use Geschenk\App\Shop;
use Geschenk\Core\Failure;
use Symfony\Contracts\Translation\TranslatorInterface;

/** The words for the codes of core and records, in the language of whoever reads; the catalogues are translations/. */
final readonly class Words
{
    /** Parameters whose "@" names a place; in any other it is what somebody typed, or a phone told. */
    private const PLACES = ['path', 'messenger', 'field', 'rule', 'choice', 'step'];

    public function __construct(private TranslatorInterface $translator, private Language $language)
    {
    }

    /**
     * @param array<string, string|int> $params   as in Failure::$fields
     * @param string|null               $language BCP 47; that of the request when none is told
     */
    public function say(string $key, array $params = [], ?string $language = null): string
    {
        $language ??= $this->language->current();

        return $this->translator->trans($key, $this->shown($params, $language), null, $language);
    }

    public function has(string $key): bool
    {
        return $key !== $this->translator->trans($key, [], null, Language::DEFAULT);
    }

    /** Whoever did something: a user by their name, and what is no person by what it is. */
    public function who(string $by, ?string $language = null): string
    {
        $key = 'who.'.strtr($by, ' ', '_');

        return $this->has($key) ? $this->say($key, [], $language) : $by;
    }

    /** Day and time in the shop's zone, as the interface writes them (web/lib/format.ts). */
    public function moment(\DateTimeInterface $at, string $language): string
    {
        $there = \DateTimeImmutable::createFromInterface($at)->setTimezone(new \DateTimeZone(Shop::ZONE));

        return $this->say('date.moment', [
            'date' => $this->day($there, $language), 'time' => $there->format('H:i'),
        ], $language);
    }

    public function day(\DateTimeInterface $at, ?string $language = null): string
    {
        $there = \DateTimeImmutable::createFromInterface($at)->setTimezone(new \DateTimeZone(Shop::ZONE));

        return $this->say('date.day', [
            'day' => $there->format('j'), 'month' => $this->say('month.m'.$there->format('n'), [], $language),
            'year' => $there->format('Y'),
        ], $language);
    }

    /**
     * What happened, where and what to do now.
     *
     * @param array<string, string|int> $fields
     */
    public function failure(string $reason, array $fields = [], ?string $language = null): string
    {
        $key = 'failure.'.$reason;

        return $this->say($this->has($key) ? $key : 'failure.unexpected', $fields, $language);
    }

    public function of(Failure $failure, ?string $language = null): string
    {
        return $this->failure($failure->reason, $failure->fields, $language);
    }

    /**
     * @param array<string, string|int> $params
     *
     * @return array<string, string|int>
     */
    private function shown(array $params, string $language): array
    {
        foreach ($params as $name => $value) {
            $params[$name] = match (true) {
                is_int($value) && str_ends_with($name, '_at') => $this->moment(
                    new \DateTimeImmutable('@'.$value), $language,
                ),
                is_int($value) && str_ends_with($name, '_bytes') => Shown::bytes($value, $language),
                is_string($value) && str_ends_with($name, '_number') => Shown::phoneNumber($value),
                is_string($value) && str_starts_with($value, '@')
                    && in_array($name, self::PLACES, true) => $this->where($value, $language),
                is_string($value) => mb_scrub($value),
                default => $value,
            };
        }

        // A kind of run is named by its own words, and they go into the sentences about any.
        if (is_string($params['kind'] ?? null) && $this->has('run.'.$params['kind'])) {
            $params['what'] = $this->translator->trans('run.'.$params['kind'], [], null, $language);
        }

        return $params;
    }

    private function where(string $place, string $language): string
    {
        $key = str_contains($place, '.') ? substr($place, 1) : 'where.'.substr($place, 1);
        $said = $this->translator->trans($key, [], null, $language);

        return $said === $key ? mb_scrub($place) : $said;
    }
}
