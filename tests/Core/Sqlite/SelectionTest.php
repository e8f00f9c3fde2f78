<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Sqlite;

use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\Messenger\Otterpost\Ios\IosSchema;
use Geschenk\Core\Sqlite\Selection;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** The short way takes a row only where nothing is set but what it names, whatever columns a table has. */
final class SelectionTest extends TestCase
{
    private const NAMES = 's.wire_id = x.wire_id AND typeof(s."body") = \'text\' AND crows.edited_ms IS NULL';

    public function testWhatIsNotNamedMustBeEmpty(): void
    {
        $rest = Selection::nothingElse(
            ['slip_id', 'wire_id', 'body', 'edited_ms', 'od"d'], 's', self::NAMES, ['slip_id'],
        );
        self::assertSame(' AND s."edited_ms" IS NULL AND s."od""d" IS NULL', $rest);
        self::assertSame('', Selection::nothingElse(['wire_id'], 's', self::NAMES));
    }

    /**
     * @return iterable<string, array{string, string, string}> a table, the alias of its rows, and a row that is plain
     */
    public static function tables(): iterable
    {
        yield 'Android' => [AndroidSchema::TABLES['slip'], 'slip', 'slip_id, room_id, sort, sent_ms, stage'];
        yield 'iOS' => [IosSchema::TABLES['ZSLIP'], 'ZSLIP', 'Z_PK, ZROOM, ZSORT, ZSENT, ZSTAGE'];
    }

    #[DataProvider('tables')]
    public function testAColumnThatIsAddedToTheSchemaIsSeen(string $create, string $table, string $needed): void
    {
        $longer = (string) preg_replace('/\)$/D', ', later_on TEXT)', $create);
        self::assertSame([...Selection::columns($create), 'later_on'], Selection::columns($longer));
        $database = new \SQLite3(':memory:');
        $database->enableExceptions(true);
        $database->exec($longer);
        $database->exec("INSERT INTO $table ($needed) VALUES (1, 1, 1, 1, 1), (2, 1, 1, 1, 1)");
        $key = strstr($needed, ',', true);
        $database->exec("UPDATE $table SET later_on = 'something' WHERE $key = 2");
        $structure = array_map(trim(...), explode(',', $needed));
        // All that has a value by default is named by the short way itself.
        $names = implode(' ', array_map(
            static fn (string $c): string => 's.'.$c,
            array_intersect(['mine', 'flags'], Selection::columns($create)),
        ));
        $rest = Selection::nothingElse(Selection::columns($longer), 's', $names, $structure);
        self::assertSame(1, $database->querySingle("SELECT COUNT(*) FROM $table s WHERE 1 $rest"));
        self::assertSame(1, $database->querySingle("SELECT $key FROM $table s WHERE 1 $rest"));
    }
}
