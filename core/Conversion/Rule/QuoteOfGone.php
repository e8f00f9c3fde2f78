<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;

final class QuoteOfGone extends Touching
{
    public function name(): string
    {
        return 'quote_of_gone';
    }

    public function sentence(): string
    {
        return 'The message answers one that is gone, and showed its words. The answer arrives; the words it answered stay in the backup.';
    }

    public function messages(Move $move): ?string
    {
        return $move->target->quotesOfGone ? null : "m.details IS NOT NULL AND json_extract(m.details, '$.quote') IS NOT NULL";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['quote' => null]);
    }
}
