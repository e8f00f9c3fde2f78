<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Symfony\Component\HttpFoundation\JsonResponse;

/**
 * An answer in JSON. What a phone brought may hold bytes that are no UTF-8: they cost themselves and not the answer;
 * and marks that turn the direction of writing: they end with their own text.
 */
final class JsonAnswer extends JsonResponse
{
    protected int $encodingOptions = self::DEFAULT_ENCODING_OPTIONS | \JSON_INVALID_UTF8_SUBSTITUTE;

    public function setJson(string $json): static
    {
        return parent::setJson(Directions::closedIn($json));
    }
}
