<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Since2001;

/**
 * A dictionary of a property list, read by type. What is not of the type that belongs there is noted and read as
 * absent; what nobody asked for is noted too.
 */
final class Part
{
    /** @var array<array-key, true> */
    private array $asked = [];

    /**
     * @param array<array-key, mixed> $values
     * @param array<string, string>   $unreadable by subject, with what stood there; added to
     */
    public function __construct(
        private readonly array $values,
        private readonly string $subject,
        // @phpstan-ignore property.onlyWritten (it is another's, who reads it)
        private array &$unreadable,
    ) {
    }

    public function string(string $key): ?string
    {
        $value = $this->value($key);

        return null === $value || is_string($value) ? $value : $this->odd($key, $value);
    }

    public function whole(string $key): ?int
    {
        $value = $this->value($key);

        return null === $value || is_int($value) ? $value : $this->odd($key, $value);
    }

    public function real(string $key): ?float
    {
        $value = $this->value($key);
        if (null === $value || is_int($value) || (is_float($value) && is_finite($value))) {
            return null === $value ? null : (float) $value;
        }

        return $this->odd($key, $value);
    }

    /** @return int|null milliseconds since 1970 UTC */
    public function time(string $key): ?int
    {
        try {
            return Since2001::toMilliseconds($this->real($key));
        } catch (\UnexpectedValueException) {
            return $this->odd($key, $this->value($key));
        }
    }

    /** @return int|null milliseconds that something takes */
    public function length(string $key): ?int
    {
        try {
            return Since2001::lengthOf($this->real($key));
        } catch (\UnexpectedValueException) {
            return $this->odd($key, $this->value($key));
        }
    }

    public function flag(string $key): bool
    {
        $value = $this->value($key);
        if (null !== $value && !is_bool($value)) {
            $this->odd($key, $value);
        }

        return true === $value;
    }

    /** @return string|null a person's key */
    public function person(string $key): ?string
    {
        $handle = $this->string($key);

        return null === $handle ? null : Handle::toKey($handle, Handle::IOS_SUFFIX);
    }

    public function part(string $key): ?self
    {
        $value = $this->value($key);
        if (null !== $value && (!is_array($value) || ([] !== $value && array_is_list($value)))) {
            return $this->odd($key, $value);
        }

        return null === $value ? null : new self($value, $this->of($key), $this->unreadable);
    }

    /** @return list<self> */
    public function parts(string $key): array
    {
        $value = $this->value($key);
        if (null !== $value && (!is_array($value) || !array_is_list($value))) {
            $this->odd($key, $value);

            return [];
        }
        $parts = [];
        foreach ($value ?? [] as $place => $entry) {
            if (is_array($entry) && ([] === $entry || !array_is_list($entry))) {
                $parts[] = new self($entry, $this->of($key).'.'.$place, $this->unreadable);
            } else {
                $this->odd($key.'.'.$place, $entry);
            }
        }

        return $parts;
    }

    /** Whether it has this key, without asking for it. */
    public function has(string $key): bool
    {
        return isset($this->values[$key]);
    }

    /** @return array<string, scalar> by subject, what nobody asked for */
    public function rest(): array
    {
        $rest = [];
        foreach (array_diff_key($this->values, $this->asked) as $key => $value) {
            $rest[$this->of((string) $key)] = is_scalar($value) && (!is_float($value) || is_finite($value))
                ? $value
                : self::words($value);
        }

        return $rest;
    }

    public static function words(mixed $value): string
    {
        return is_scalar($value)
            ? (string) $value
            : (string) json_encode($value, \JSON_INVALID_UTF8_SUBSTITUTE | \JSON_PARTIAL_OUTPUT_ON_ERROR);
    }

    private function value(string $key): mixed
    {
        $this->asked[$key] = true;

        return $this->values[$key] ?? null;
    }

    private function of(string $key): string
    {
        return '' === $this->subject ? $key : $this->subject.'.'.$key;
    }

    /** Notes what is no use there. */
    private function odd(string $key, mixed $value): null
    {
        $this->unreadable[$this->of($key)] = mb_strcut(mb_scrub(self::words($value)), 0, 60);

        return null;
    }
}
