<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** What a message is. `Unknown` stands for every kind that a reader has no word for; its raw code travels as opaque. */
enum Kind: string
{
    case Text = 'text';
    case Photo = 'photo';
    case Voice = 'voice';
    case Document = 'document';
    case Notice = 'notice';
    case Unknown = 'unknown';
}
