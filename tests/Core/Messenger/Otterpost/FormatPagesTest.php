<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Messenger\Otterpost\Android;
use Geschenk\Core\Messenger\Otterpost\Android\OpenBackup;
use Geschenk\Core\Messenger\Otterpost\Android\SealedBackup;
use Geschenk\Core\Messenger\Otterpost\AndroidGeneration4;
use Geschenk\Core\Messenger\Otterpost\AndroidRebuild;
use Geschenk\Core\Messenger\Otterpost\Ios;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** The pages in docs/formats are the contract: their tables are read and held against the schema and the codes. */
final class FormatPagesTest extends TestCase
{
    use Scratch;

    /** @return iterable<string, array{string, array<string, string>}> */
    public static function schemas(): iterable
    {
        yield 'chat store' => ['chat-store', Store\StoreSchema::TABLES];
        yield 'Android' => ['otterpost-android', Android\AndroidSchema::tables(true)];
        yield 'Android, generation 4' => ['otterpost-android-4', AndroidGeneration4\Generation4Schema::TABLES];
        yield 'the rebuild' => ['otterplus-android', AndroidRebuild\RebuildSchema::OWN_TABLES];
        yield 'iOS' => ['otterpost-ios', Ios\IosSchema::TABLES];
    }

    /** @param array<string, string> $tables */
    #[DataProvider('schemas')]
    public function testThePageHasEveryTableColumnAndType(string $page, array $tables): void
    {
        $described = [];
        foreach ($this->sections($page) as $title => $rows) {
            if (1 === preg_match('/^`(\w+)`$/', (string) $title, $name)) {
                $described[$name[1]] = array_column($rows, 1, 0);
            }
        }
        $database = new \SQLite3(':memory:');
        $made = [];
        foreach ($tables as $name => $statement) {
            $database->exec($statement);
            $columns = $database->query("SELECT name, type FROM pragma_table_info('$name') ORDER BY cid");
            self::assertInstanceOf(\SQLite3Result::class, $columns);
            while (is_array($row = $columns->fetchArray(\SQLITE3_NUM))) {
                self::assertIsString($row[0]);
                self::assertIsString($row[1]);
                $made[$name][$row[0]] = $row[1];
            }
        }
        self::assertEquals($made, $described);
        foreach ($made as $name => $columns) {
            self::assertSame(array_keys($columns), array_keys($described[$name]), "order of the columns of $name");
        }
    }

    #[DataProvider('writers')]
    public function testWhatAWriterMakesIsWhatItsPageSays(string $platform, string $page, string $file): void
    {
        $chats = Chats::random(5, $this->path('x.sqlite'), $this->path('files'), $platform);
        Chats::format($platform)->writer()?->write(
            $chats, new FolderFiles($this->path('files')), $this->path('out'), new NoProgress(),
        );
        $database = new \SQLite3($this->path('out/'.$file), \SQLITE3_OPEN_READONLY);
        $names = $database->query("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'");
        self::assertInstanceOf(\SQLite3Result::class, $names);
        $tables = 0;
        while (is_array($row = $names->fetchArray(\SQLITE3_NUM))) {
            ++$tables;
            self::assertIsString($row[0]);
            $columns = $database->query("SELECT name, type FROM pragma_table_info('{$row[0]}') ORDER BY cid");
            self::assertInstanceOf(\SQLite3Result::class, $columns);
            $made = [];
            while (is_array($column = $columns->fetchArray(\SQLITE3_NUM))) {
                $made[] = array_map(static fn (mixed $part): string => is_string($part) ? $part : '', $column);
            }
            self::assertSame(
                $made,
                array_map(
                    static fn (array $r): array => array_slice($r, 0, 2), $this->sections($page)["`{$row[0]}`"] ?? [],
                ),
                $row[0],
            );
        }
        self::assertGreaterThan(8, $tables);
    }

    /** @return iterable<string, array{string, string, string}> */
    public static function writers(): iterable
    {
        yield 'Android' => ['android', 'otterpost-android', Android\AndroidSchema::DATABASE];
        yield 'iOS' => ['ios', 'otterpost-ios', Ios\IosSchema::DATABASE];
    }

    /** @return iterable<string, array{string, string, array<int|string, \BackedEnum>|array<int, string>}> */
    public static function codes(): iterable
    {
        foreach ([
            'otterpost-android' => Android\Codes::class, 'otterpost-ios' => Ios\Codes::class,
        ] as $page => $codes) {
            yield "$page slip sorts" => [$page, 'Slip sorts', $codes::SLIP_SORTS];
            yield "$page room sorts" => [$page, 'Room sorts', $codes::ROOM_SORTS];
            yield "$page ranks" => [$page, 'Ranks', $codes::RANKS];
            yield "$page stages" => [$page, 'Stages', $codes::STAGES];
            yield "$page view once" => [$page, 'View once', $codes::ONCE];
            yield "$page notice sorts" => [$page, 'Notice sorts', $codes::NOTICE_SORTS];
        }
        yield 'Android calls' => ['otterpost-android', 'Call outcomes', Android\Codes::RING_OUTCOMES];
        yield 'iOS calls' => ['otterpost-ios', 'Call outcomes', Ios\Codes::CALL_OUTCOMES];
        yield 'generation 4 slip sorts' => [
            'otterpost-android-4', 'Slip sorts', AndroidGeneration4\Generation4Schema::SLIP_SORTS,
        ];
        yield 'generation 4 calls' => [
            'otterpost-android-4', 'Call outcomes', AndroidGeneration4\Generation4Schema::RING_OUTCOMES,
        ];
        yield 'Android flags' => [
            'otterpost-android', 'Flags',
            [Android\AndroidSchema::FLAG_STARRED => 'starred', Android\AndroidSchema::FLAG_FORWARDED => 'forwarded'],
        ];
        yield 'iOS flags' => [
            'otterpost-ios', 'Flags',
            [Ios\IosSchema::FLAG_STARRED => 'starred', Ios\IosSchema::FLAG_FORWARDED => 'forwarded'],
        ];
    }

    /** @param array<int|string, \BackedEnum|string> $codes */
    #[DataProvider('codes')]
    public function testThePageHasEveryCode(string $page, string $section, array $codes): void
    {
        $expected = [];
        foreach ($codes as $code => $value) {
            $expected[$code] = $value instanceof \BackedEnum ? $value->value : $value;
        }
        self::assertEquals($expected, array_column($this->sections($page)[$section] ?? [], 1, 0));
    }

    public function testThePagesGiveTheNumbersThatTellTheFormats(): void
    {
        $page = static fn (string $name): string => (string) file_get_contents(
            dirname(__DIR__, 4)."/docs/formats/$name.md",
        );
        self::assertStringContainsString(sprintf('0x%08X', Store\StoreSchema::APPLICATION_ID), $page('chat-store'));
        self::assertStringContainsString(
            sprintf('0x%08X', Android\AndroidSchema::APPLICATION_ID), $page('otterpost-android'),
        );
        self::assertStringContainsString(
            sprintf('0x%08X', Android\AndroidSchema::COUNTER_APPLICATION_ID), $page('otterpost-android'),
        );
        self::assertStringContainsString(
            sprintf('0x%08X', AndroidGeneration4\Generation4Schema::APPLICATION_ID), $page('otterpost-android-4'),
        );
        self::assertStringContainsString(
            sprintf('0x%08X', AndroidRebuild\RebuildSchema::APPLICATION_ID), $page('otterplus-android'),
        );
        self::assertStringContainsString(SealedBackup::MAGIC, $page('otterpost-sealed'));
        foreach ([OpenBackup::FILE, SealedBackup::FILE] as $file) {
            self::assertStringContainsString(
                '| `'.Android\AndroidSchema::SPARES."/<moment>/$file` |", $page('otterpost-sealed'),
            );
        }
        self::assertStringContainsString('| '.SealedBackup::HEADER.' | | pieces |', $page('otterpost-sealed'));
        foreach (Ios\IosSchema::ENTITIES as $entity => $number) {
            self::assertMatchesRegularExpression(
                '/### `Z'.strtoupper($entity).'`.*?\| Z_ENT \| INTEGER \| '.$number.' \|/s', $page('otterpost-ios'),
            );
        }
    }

    /** @return array<string, list<list<string>>> rows of the table below each heading */
    private function sections(string $page): array
    {
        $sections = [];
        $title = '';
        foreach (file(dirname(__DIR__, 4)."/docs/formats/$page.md", \FILE_IGNORE_NEW_LINES) ?: [] as $line) {
            if (str_starts_with($line, '### ')) {
                $title = substr($line, 4);
            } elseif (str_starts_with($line, '|') && !str_starts_with($line, '|---') && !in_array(
                $line, ['| column | type | meaning |', '| code | meaning |'], true,
            )) {
                $sections[$title][] = array_map(trim(...), array_slice(explode('|', $line), 1, -1));
            }
        }

        return $sections;
    }
}
