<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;

final class KeptAlthoughDeleted extends Touching
{
    public function name(): string
    {
        return 'kept_although_deleted';
    }

    public function sentence(): string
    {
        return 'A rebuild of the messenger kept the words of a message that its sender had deleted. It arrives as deleted; the words stay in the backup.';
    }

    public function messages(Move $move): string
    {
        return "m.kind = 'deleted' AND (m.body IS NOT NULL OR m.attachments IS NOT NULL)";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['text' => null, 'attachments' => [], 'mentions' => []]);
    }
}
