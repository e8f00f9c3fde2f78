<?php

declare(strict_types=1);

namespace Geschenk\Core\Import\ChatLines;

use Geschenk\Core\Import\ChatsInAFile;
use Geschenk\Core\Store\Lines\LinesReader;

/** Chats as JSON Lines (docs/formats/chat-lines.md). */
final readonly class ChatLinesImporter extends ChatsInAFile
{
    public static function name(): string
    {
        return 'chat_lines';
    }

    public function recognises(string $path): bool
    {
        return LinesReader::recognises($path);
    }
}
