<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Formats\Quillet\Android;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Messenger\Capabilities;
use Geschenk\Core\Messenger\ChatFiles;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Messenger;
use Geschenk\Core\Platform;

/**
 * A messenger of another build than those that ship, to prove the ports: no database but an event log, over seventeen
 * files, whose messages come in any order and in pieces; each attachment is locked under a key of its own. Nothing else
 * knows of it.
 *
 * log/self.events holds the owner, people and conversations, log/00.events to log/15.events what was said: JSON, an
 * event a line. kept/ holds the attachments.
 */
final class AndroidFormat implements Format
{
    public const SELF = 'log/self.events';
    public const SHARDS = 16;
    private const BEGINNING = '{"do":"self","quillet":1,';

    public static function shard(int $number): string
    {
        return sprintf('log/%02d.events', $number);
    }

    public function messenger(): Messenger
    {
        return new Messenger('Quillet', ['quillet' => 'Quillet']);
    }

    public function platform(): Platform
    {
        return Platform::Android;
    }

    public function detect(string $folder): bool
    {
        $path = $folder.'/'.self::SELF;

        return is_file($path) && str_starts_with(Disk::contents($path), self::BEGINNING);
    }

    public function chatFiles(): ChatFiles
    {
        return new ChatFiles(self::SELF, 'log/[0-9][0-9].events');
    }

    public function capabilities(): Capabilities
    {
        return new Capabilities(
            broadcastLists: true, heardTimes: true, wallpapers: true, sendEffects: true, motionParts: true,
            quotesOfGone: true, detailPrefix: 'quillet-android:', messenger: $this->messenger(),
        );
    }

    public function reader(): AndroidReader
    {
        return new AndroidReader();
    }

    public function writer(): AndroidWriter
    {
        return new AndroidWriter();
    }
}
