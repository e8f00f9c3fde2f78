<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Symfony\Component\HttpFoundation\Request;

/** The JSON body of a request, read by type; what is wrong becomes a sentence. */
final readonly class Input
{
    /** @param array<array-key, mixed> $values */
    private function __construct(private array $values)
    {
    }

    /** @throws \DomainException */
    public static function of(Request $request): self
    {
        $values = json_decode($request->getContent(), true, 8);
        if (!is_array($values)) {
            throw new \DomainException('The request holds no JSON object.');
        }

        return new self($values);
    }

    /** @throws \DomainException */
    public function text(string $name, int $longest = 200): string
    {
        $value = $this->values[$name] ?? null;
        if (!is_string($value) || !mb_check_encoding($value, 'UTF-8') || '' === trim($value)) {
            throw new \DomainException(sprintf('“%s” is missing.', str_replace('_', ' ', $name)));
        }
        if (mb_strlen($value) > $longest) {
            throw new \DomainException(sprintf('“%s” is too long: at most %d characters.', str_replace('_', ' ', $name), $longest));
        }

        return trim($value);
    }

    public function optionalText(string $name): ?string
    {
        $value = $this->values[$name] ?? null;

        return is_string($value) && '' !== trim($value) ? mb_substr(mb_scrub(trim($value)), 0, 200) : null;
    }

    /**
     * A password or key, which may begin or end with a space.
     *
     * @throws \DomainException
     */
    public function secret(string $name, int $longest = 200): ?string
    {
        $value = $this->values[$name] ?? null;
        if (!is_string($value) || '' === trim($value)) {
            return null;
        }

        return mb_check_encoding($value, 'UTF-8') && mb_strlen($value) <= $longest ? $value : throw new \DomainException(sprintf('“%s” is too long: at most %d characters.', str_replace('_', ' ', $name), $longest));
    }

    public function flag(string $name): bool
    {
        return true === ($this->values[$name] ?? null);
    }

    /** @throws \DomainException */
    public function number(string $name): float
    {
        $value = $this->values[$name] ?? null;

        return is_int($value) || is_float($value) ? (float) $value : throw new \DomainException(sprintf('“%s” is no number.', $name));
    }
}
