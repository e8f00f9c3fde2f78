<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Route;

final class KeptAlthoughDeleted extends Touching
{
    public function name(): string
    {
        return 'kept_although_deleted';
    }

    public function messages(Route $route): string
    {
        return "m.kind = 'deleted' AND (m.body IS NOT NULL OR m.attachments IS NOT NULL)";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['text' => null, 'attachments' => [], 'mentions' => []]);
    }
}
