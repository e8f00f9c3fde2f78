<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Geschenk\App\Refusal;
use Symfony\Component\HttpFoundation\Request;

/** The JSON body of a request, read by type; what is wrong with it is refused. */
final readonly class Input
{
    /** @param array<array-key, mixed> $values */
    private function __construct(private array $values)
    {
    }

    /** @throws Refusal */
    public static function of(Request $request): self
    {
        $values = json_decode($request->getContent(), true, 8);
        if (!is_array($values)) {
            throw Refusal::because('no_json');
        }

        return new self($values);
    }

    /** @throws Refusal */
    public function text(string $name, int $longest = 200): string
    {
        $value = $this->values[$name] ?? null;
        if (!is_string($value) || !mb_check_encoding($value, 'UTF-8') || '' === trim($value)) {
            throw Refusal::because('field_missing', ['field' => '@'.$name]);
        }
        if (mb_strlen($value) > $longest) {
            throw Refusal::because('field_too_long', ['field' => '@'.$name, 'most' => $longest]);
        }

        return trim($value);
    }

    /** @throws Refusal when it is too long: nothing is cut in silence */
    public function optionalText(string $name, int $longest = 200): ?string
    {
        $value = $this->values[$name] ?? null;

        return is_string($value) && '' !== trim($value) ? $this->text($name, $longest) : null;
    }

    /**
     * @param list<string> $known
     *
     * @return string|null null when nothing is told
     *
     * @throws Refusal when it is something else
     */
    public function oneOf(string $name, array $known): ?string
    {
        $value = $this->values[$name] ?? null;

        return null === $value || in_array($value, $known, true)
            ? $value
            : throw Refusal::because('field_unknown', ['field' => '@'.$name]);
    }

    /**
     * A password or key, which may begin or end with a space.
     *
     * @throws Refusal
     */
    public function secret(string $name, int $longest = 200): ?string
    {
        $value = $this->values[$name] ?? null;
        if (!is_string($value) || '' === trim($value)) {
            return null;
        }

        return mb_check_encoding($value, 'UTF-8') && mb_strlen($value) <= $longest
            ? $value
            : throw Refusal::because('field_too_long', ['field' => '@'.$name, 'most' => $longest]);
    }

    public function flag(string $name): bool
    {
        return true === ($this->values[$name] ?? null);
    }

    /** @throws Refusal */
    public function number(string $name): float
    {
        $value = $this->values[$name] ?? null;

        return is_int($value) || is_float($value)
            ? (float) $value
            : throw Refusal::because('field_no_number', ['field' => '@'.$name]);
    }
}
