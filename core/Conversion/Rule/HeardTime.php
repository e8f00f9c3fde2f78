<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;

final class HeardTime extends Touching
{
    public function name(): string
    {
        return 'heard_time';
    }

    public function sentence(): string
    {
        return 'The receiving messenger does not keep who heard a voice message when. The message arrives; that it was read stays marked.';
    }

    /** A receipt without that time ends in "null": what is left when those are gone spares taking every list apart. */
    public function messages(Move $move): ?string
    {
        return $move->target->heardTimes ? null : "(substr(m.receipts, -7) <> ',null]]' OR instr(replace(m.receipts, ',null],', ''), '],') > 0) AND EXISTS (SELECT 1 FROM json_each(m.receipts) WHERE json_extract(value, '$[3]') IS NOT NULL)";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['receipts' => array_map(static fn (Receipt $receipt): Receipt => $receipt->withoutHeard(), $message->receipts)]);
    }
}
