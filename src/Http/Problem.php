<?php

declare(strict_types=1);

namespace Geschenk\App\Http;

use Symfony\Component\HttpFoundation\JsonResponse;

/** An error as problem details, RFC 9457. */
final class Problem
{
    /** @param string $detail what happened and what to do now, for the technician */
    public static function response(int $status, string $title, string $detail): JsonResponse
    {
        return new JsonAnswer(
            ['type' => 'about:blank', 'title' => $title, 'status' => $status, 'detail' => $detail], $status,
            ['Content-Type' => 'application/problem+json'],
        );
    }
}
