<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\Lines\LinesWriter;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;

/** All that the store holds, for programs: docs/formats/chat-lines.md. */
#[AsTaggedItem(priority: 10)]
final class LinesForm implements Form
{
    public const FILE = 'chats.jsonl';

    public static function name(): string
    {
        return 'lines';
    }

    public static function usesFiles(): bool
    {
        return false;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 600 * $messages;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $stream = $of->folder->begin(self::FILE);
        $extract = $of->extract;
        foreach (LinesWriter::lines($extract->chats, $extract->selected, $extract->people()) as $line) {
            $of->folder->write($stream, $line, self::FILE);
            if (str_starts_with($line, '{"message"')) {
                $progress->advance(1);
            }
        }
        $of->folder->finish($stream, self::FILE);
    }
}
