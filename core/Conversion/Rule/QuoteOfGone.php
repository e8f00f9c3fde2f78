<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Route;

final class QuoteOfGone extends Touching
{
    public function name(): string
    {
        return 'quote_of_gone';
    }

    public function messages(Route $route): ?string
    {
        return $route->target->quotesOfGone
            ? null
            : "m.details IS NOT NULL AND json_extract(m.details, '$.quote') IS NOT NULL";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['quote' => null]);
    }
}
