<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\LossRule;
use Geschenk\Core\Messenger\Capabilities;

final class HeardTime implements LossRule
{
    use UnchangedByDefault;

    public function name(): string
    {
        return 'heard_time';
    }

    public function sentence(): string
    {
        return 'The receiving side does not keep who heard a voice message when. The message arrives; that it was read stays marked.';
    }

    public function touchesMessage(Message $message, Capabilities $target): bool
    {
        return !$target->heardTimes && [] !== array_filter($message->receipts, static fn (Receipt $receipt): bool => null !== $receipt->heardAt);
    }

    public function changeMessage(Message $message): Message
    {
        $receipts = array_map(static fn (Receipt $receipt): Receipt => $receipt->withoutHeard(), $message->receipts);

        return $message->withReceipts($receipts);
    }
}
