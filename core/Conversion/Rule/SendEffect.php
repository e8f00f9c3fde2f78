<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Route;

final class SendEffect extends Touching
{
    public function name(): string
    {
        return 'send_effect';
    }

    public function messages(Route $route): ?string
    {
        return $route->target->sendEffects
            ? null
            : "m.details IS NOT NULL AND json_extract(m.details, '$.effect') IS NOT NULL";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['effect' => null]);
    }
}
