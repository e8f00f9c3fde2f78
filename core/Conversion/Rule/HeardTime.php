<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Route;

final class HeardTime extends Touching
{
    public function name(): string
    {
        return 'heard_time';
    }

    /** A receipt without that time ends in "null": what is left when those are gone spares taking every list apart. */
    public function messages(Route $route): ?string
    {
        return $route->target->heardTimes
            ? null
            : "(substr(m.receipts, -7) <> ',null]]' OR instr(replace(m.receipts, ',null],', ''), '],') > 0) "
                ."AND EXISTS (SELECT 1 FROM json_each(m.receipts) WHERE json_extract(value, '$[3]') IS NOT NULL)";
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(
            [
                'receipts' => array_map(
                    static fn (Receipt $receipt): Receipt => $receipt->withoutHeard(), $message->receipts,
                ),
            ],
        );
    }
}
