<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Refusal;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;
use Symfony\Component\Serializer\Exception\NotEncodableValueException;
use Symfony\Component\Serializer\NameConverter\CamelCaseToSnakeCaseNameConverter;
use Symfony\Component\Validator\Constraints\Choice;
use Symfony\Component\Validator\Constraints\IsTrue;
use Symfony\Component\Validator\Constraints\Length;
use Symfony\Component\Validator\ConstraintViolationInterface;
use Symfony\Component\Validator\Exception\ValidationFailedException;

/** What the framework found wrong with the body of a request, as a refusal that has its words in the catalogues. */
final class WrongBody
{
    /** @return Refusal|null null when the exception is about something else */
    public static function refusal(HttpExceptionInterface $error): ?Refusal
    {
        $cause = $error->getPrevious();
        if ($cause instanceof ValidationFailedException) {
            foreach ($cause->getViolations() as $violation) {
                return self::of($violation);
            }
        }

        return $cause instanceof NotEncodableValueException || in_array($error->getStatusCode(), [400, 415], true)
            ? Refusal::because('no_json')
            : null;
    }

    private static function of(ConstraintViolationInterface $violation): Refusal
    {
        $path = $violation->getPropertyPath();
        if ('' === $path) {
            return Refusal::because('no_json');
        }
        $field = '@'.(new CamelCaseToSnakeCaseNameConverter())->normalize($path);

        return match ($violation->getCode()) {
            IsTrue::NOT_TRUE_ERROR => Refusal::because('no_consent'),
            Length::TOO_LONG_ERROR => Refusal::because('field_too_long', [
                'field' => $field, 'most' => (int) self::text($violation->getParameters()['{{ limit }}'] ?? null),
            ]),
            Choice::NO_SUCH_CHOICE_ERROR => Refusal::because('field_unknown', ['field' => $field]),
            default => str_contains(self::text($violation->getParameters()['{{ type }}'] ?? null), 'float')
                ? Refusal::because('field_no_number', ['field' => $field])
                : Refusal::because('field_missing', ['field' => $field]),
        };
    }

    private static function text(mixed $value): string
    {
        return is_scalar($value) ? (string) $value : '';
    }
}
