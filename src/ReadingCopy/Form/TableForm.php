<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\ReadingCopy\TableRows;
use Geschenk\Core\Progress;
use Geschenk\Core\ReadingCopy\CopyFolder;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;

/** A line for each message, as CSV (RFC 4180, UTF-8 with its mark, so that spreadsheets see what it is). */
#[AsTaggedItem(priority: 30)]
final class TableForm implements Form
{
    public const FILE = 'messages.csv';
    /** Where a field begins with one of them, spreadsheets take it for something to be run. */
    private const RUN_AT = ['=', '+', '-', '@', "\t", "\r"];

    public static function name(): string
    {
        return 'table';
    }

    public static function usesFiles(): bool
    {
        return false;
    }

    public static function bytesOfMessage(): int
    {
        return 250;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $stream = $of->folder->begin(self::FILE);
        $of->folder->write($stream, "\u{FEFF}", self::FILE);
        $this->line($of->folder, $stream, TableRows::heads($of));
        foreach (TableRows::of($of, $progress) as $row) {
            $this->line($of->folder, $stream, array_map(self::harmless(...), $row));
        }
        $of->folder->finish($stream, self::FILE);
    }

    private static function harmless(string $field): string
    {
        // NUL ends a field for many readers.
        $field = str_replace("\0", "\u{FFFD}", $field);

        return in_array($field[0] ?? '', self::RUN_AT, true) ? "'".$field : $field;
    }

    /**
     * @param resource     $stream
     * @param list<string> $fields
     */
    private function line(CopyFolder $folder, mixed $stream, array $fields): void
    {
        $line = fopen('php://memory', 'r+');
        if (false === $line || false === fputcsv($line, $fields, ',', '"', '', "\r\n")) {
            throw new \RuntimeException('There is no memory for a line.');
        }
        rewind($line);
        // Written by whoever tells a full disk from a broken one.
        $folder->write($stream, (string) stream_get_contents($line), self::FILE);
        fclose($line);
    }
}
