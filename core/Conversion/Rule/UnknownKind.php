<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\LossRule;
use Geschenk\Core\Messenger\Capabilities;

final class UnknownKind implements LossRule
{
    use UnchangedByDefault;

    public function name(): string
    {
        return 'unknown_kind';
    }

    public function sentence(): string
    {
        return 'The message is of a kind that Geschenk does not know. It arrives with its text and its details carried along, and is shown as not supported.';
    }

    public function touchesMessage(Message $message, Capabilities $target): bool
    {
        return Kind::Unknown === $message->kind && Opaque::isForeignTo($target, $message->opaque);
    }
}
