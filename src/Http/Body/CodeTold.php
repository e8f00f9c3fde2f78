<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

/** The code on a hand-over sheet, or on a page of a copy, as somebody reads it out. */
final readonly class CodeTold
{
    public function __construct(#[Text(40)] public string $code = '')
    {
    }
}
