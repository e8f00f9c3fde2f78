<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\ReadingCopy\TableRows;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Progress;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;

/** The same as a spreadsheet (OpenDocument 1.3): times are times, and nothing in a cell is ever run. */
#[AsTaggedItem(priority: 28)]
final class SpreadsheetForm implements Form
{
    public const FILE = 'messages.ods';
    /** Rows of a sheet that every program takes, its head among them. */
    private const ROWS = 1_000_000;
    private const TYPE = 'application/vnd.oasis.opendocument.spreadsheet';
    private const HEAD = '<?xml version="1.0" encoding="UTF-8"?>'."\n"
        .'<office:document-content office:version="1.3" '
        .'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
        .'xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" '
        .'xmlns:number="urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0" '
        .'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
        .'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0">'
        .'<office:automatic-styles><number:date-style style:name="moment">'
        .'<number:year number:style="long"/><number:text>-</number:text><number:month number:style="long"/>'
        .'<number:text>-</number:text><number:day number:style="long"/><number:text> </number:text>'
        .'<number:hours number:style="long"/><number:text>:</number:text><number:minutes number:style="long"/>'
        .'<number:text>:</number:text><number:seconds number:style="long"/></number:date-style>'
        .'<style:style style:name="time" style:family="table-cell" style:data-style-name="moment"/>'
        .'</office:automatic-styles><office:body><office:spreadsheet>';
    private const END = '</office:spreadsheet></office:body></office:document-content>';
    private const MANIFEST = '<?xml version="1.0" encoding="UTF-8"?>'."\n"
        .'<manifest:manifest manifest:version="1.3" '
        .'xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">'
        .'<manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="'.self::TYPE.'"/>'
        .'<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>';

    /** What XML 1.0 has no letter for. */
    private const NOT_IN_XML = '/[^\x{9}\x{A}\x{20}-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u';

    public static function name(): string
    {
        return 'spreadsheet';
    }

    public static function usesFiles(): bool
    {
        return false;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 100 * $messages;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $content = self::FILE.'.content';
        $stream = $of->folder->begin($content);
        $of->folder->write($stream, self::HEAD, $content);
        $rows = 0;
        $sheet = static fn (int $n): string => sprintf('<table:table table:name="%d">', $n)
            .self::row(TableRows::heads($of));
        $of->folder->write($stream, $sheet(1), $content);
        foreach (TableRows::of($of, $progress) as $row) {
            if (0 === ++$rows % self::ROWS) {
                $of->folder->write($stream, '</table:table>'.$sheet(1 + intdiv($rows, self::ROWS)), $content);
            }
            $of->folder->write($stream, self::row($row, TableRows::TIME), $content);
        }
        $of->folder->write($stream, '</table:table>'.self::END, $content);
        $of->folder->finish($stream, $content);
        $this->pack($of, $content);
        $of->folder->remove($content);
    }

    /**
     * @param list<string> $fields
     * @param int|null     $time   the one that is a moment
     */
    private static function row(array $fields, ?int $time = null): string
    {
        $row = '';
        foreach ($fields as $place => $field) {
            $row .= $place === $time
                ? sprintf(
                    '<table:table-cell table:style-name="time" office:value-type="date" office:date-value="%s">'
                        .'<text:p>%s</text:p></table:table-cell>',
                    // A cell has no zone: it is the shop's, as everywhere.
                    substr($field, 0, 19), str_replace('T', ' ', substr($field, 0, 19)),
                )
                : '<table:table-cell office:value-type="string">'.self::paragraphs($field).'</table:table-cell>';
        }

        return '<table:table-row>'.$row.'</table:table-row>';
    }

    private static function paragraphs(string $text): string
    {
        $plain = (string) preg_replace(self::NOT_IN_XML, "\u{FFFD}", $text);
        $lines = explode("\n", htmlspecialchars($plain, \ENT_XML1 | \ENT_QUOTES | \ENT_SUBSTITUTE, 'UTF-8'));

        return '<text:p>'.implode('</text:p><text:p>', array_map(self::spaces(...), $lines)).'</text:p>';
    }

    /** Several spaces in a row would be taken for one. */
    private static function spaces(string $line): string
    {
        $kept = preg_replace_callback(
            '/^ +|(?<= ) +/',
            static fn (array $run): string => sprintf('<text:s text:c="%d"/>', strlen($run[0])), $line,
        );

        return str_replace("\t", '<text:tab/>', (string) $kept);
    }

    /** @throws DiskFailure */
    private function pack(CopyContext $of, string $content): void
    {
        $target = $of->folder->folder.'/'.self::FILE;
        $of->folder->remove(self::FILE);
        $zip = new \ZipArchive();
        if (true !== $zip->open($target, \ZipArchive::CREATE | \ZipArchive::EXCL)) {
            throw DiskFailure::at('make', $target);
        }
        // The type comes first and as it is, so that it is seen without unpacking.
        $isIn = $zip->addFromString('mimetype', self::TYPE)
            && $zip->setCompressionName('mimetype', \ZipArchive::CM_STORE)
            && $zip->addFromString('META-INF/manifest.xml', self::MANIFEST)
            && $zip->addFile($of->folder->folder.'/'.$content, 'content.xml');
        foreach (['mimetype', 'META-INF/manifest.xml', 'content.xml'] as $name) {
            $isIn = $isIn && $zip->setMtimeName($name, $of->of['taken_at']->getTimestamp());
        }
        if (!$isIn || !Disk::quietly(static fn (): bool => $zip->close())) {
            throw Disk::failure('write', $target);
        }
        $of->folder->finished(self::FILE);
    }
}
