<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Route;

final class MotionPart extends Touching
{
    public function name(): string
    {
        return 'motion_part';
    }

    public function choices(): array
    {
        return [
            new Choice('still_only', Outcome::Changed),
            new Choice('as_two', Outcome::Changed),
        ];
    }

    public function messages(Route $route): ?string
    {
        return $route->target->motionParts
            ? null
            : 'm.attachments IS NOT NULL AND m.message_id IN (SELECT message_id FROM attachment WHERE is_motion)';
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        $kept = 'still_only' === $choice->key
            ? array_filter($message->attachments, static fn (Attachment $a): bool => !$a->isMotion)
            : $message->attachments;

        return $message->with(
            [
                'attachments' => array_map(
                    static fn (Attachment $a): Attachment => $a->asStandalone(), array_values($kept),
                ),
            ],
        );
    }
}
