<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\CsvLine;
use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\ReadingCopy\TableRows;
use Geschenk\Core\Progress;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;

/** A line for each message, as CSV (RFC 4180, UTF-8 with its mark, so that spreadsheets see what it is). */
#[AsTaggedItem(priority: 30)]
final class TableForm implements Form
{
    public const FILE = 'messages.csv';

    public static function name(): string
    {
        return 'table';
    }

    public static function usesFiles(): bool
    {
        return false;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 250 * $messages;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $stream = $of->folder->begin(self::FILE);
        // Written by whoever tells a full disk from a broken one.
        $of->folder->write($stream, CsvLine::MARK.CsvLine::of(TableRows::heads($of)), self::FILE);
        foreach (TableRows::of($of, $progress) as $row) {
            $of->folder->write($stream, CsvLine::of($row), self::FILE);
        }
        $of->folder->finish($stream, self::FILE);
    }
}
