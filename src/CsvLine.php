<?php

declare(strict_types=1);

namespace Geschenk\App;

/** A line of a table as RFC 4180 has it. */
final class CsvLine
{
    /** Before the first line: so that spreadsheets see that it is UTF-8. */
    public const MARK = "\u{FEFF}";
    /** Where a field begins with one of them, spreadsheets take it for something to be run. */
    private const RUN_AT = ['=', '+', '-', '@', "\t", "\r"];

    /** @param list<string> $fields whoever wrote them: none of them is run */
    public static function of(array $fields): string
    {
        $line = fopen('php://memory', 'r+');
        $fields = array_map(self::harmless(...), $fields);
        if (false === $line || false === fputcsv($line, $fields, ',', '"', '', "\r\n")) {
            throw new \RuntimeException('There is no memory for a line.');
        }
        rewind($line);
        $written = (string) stream_get_contents($line);
        fclose($line);

        return $written;
    }

    private static function harmless(string $field): string
    {
        // NUL ends a field for many readers.
        $field = str_replace("\0", "\u{FFFD}", $field);

        return in_array($field[0] ?? '', self::RUN_AT, true) ? "'".$field : $field;
    }
}
