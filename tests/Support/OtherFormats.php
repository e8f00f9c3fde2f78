<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingApart;

/** The formats in tests/Support/Formats, which nothing that ships knows of. */
final class OtherFormats
{
    public static function all(): Formats
    {
        return new Formats([__DIR__.'/Formats' => __NAMESPACE__.'\\Formats']);
    }

    public static function readingApart(): ReadingApart
    {
        return new ReadingApart(__DIR__.'/read-chats.php', self::all());
    }
}
