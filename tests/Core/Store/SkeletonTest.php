<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Skeleton;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class SkeletonTest extends TestCase
{
    use Scratch;
    use TestTrait;

    public function testNothingThatWasSaidOrSentIsLeftAndAllElseIs(): void
    {
        $this->limitTo(20)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed): void {
            $path = $this->path($seed.'.sqlite');
            @unlink($path);
            $chats = Chats::random($seed, $path, $this->path('files'), null);
            $before = [$chats->summary(), $chats->titles(), $chats->overview()];
            $words = $this->words($path);
            $chats->close();

            Skeleton::make($path);
            $bytes = (string) file_get_contents($path);
            foreach ($words as $word) {
                self::assertStringNotContainsString($word, $bytes);
            }
            $left = new ChatStore($path);
            self::assertSame(
                $before, [$left->summary(), $left->titles(), $left->overview()],
            );
            foreach ($left->conversations() as $conversation) {
                foreach ($left->messages($conversation->id) as $message) {
                    self::assertNull($message->message->text);
                }
            }
            $left->close();
            Skeleton::make($path);
            self::assertSame($bytes, file_get_contents($path), 'done again it does nothing');
        });
    }

    public function testAStoreOfTheVersionBeforeToo(): void
    {
        Chats::random(3, $this->path('old.sqlite'), $this->path('files'), null)->close();
        $database = new \SQLite3($this->path('old.sqlite'));
        $database->exec('DROP TABLE content_key; PRAGMA user_version = 2');
        $database->close();
        Skeleton::make($this->path('old.sqlite'));
        self::assertNull((new ChatStore($this->path('old.sqlite')))->conversation('nobody'));
    }

    /** @return list<string> texts of some length that stand in it as they are */
    private function words(string $path): array
    {
        $store = new \SQLite3($path, \SQLITE3_OPEN_READONLY);
        $found = [];
        foreach ([
            'message' => ['body', 'details', 'opaque'], 'attachment' => ['shown_name', 'preview'],
            'conversation' => ['about', 'draft', 'picture', 'opaque'], 'canned_answer' => ['body'],
        ] as $table => $columns) {
            self::assertArrayHasKey($table, StoreSchema::TABLES);
            foreach ($columns as $column) {
                $rows = $store->query("SELECT CAST($column AS BLOB) FROM $table WHERE length($column) > 11");
                while ($rows instanceof \SQLite3Result && is_array($row = $rows->fetchArray(\SQLITE3_NUM))) {
                    self::assertIsString($row[0]);
                    $found[] = substr($row[0], 0, 40);
                }
            }
        }
        // Words that are also a name or a title stay as such.
        $shown = '';
        $names = $store->query(<<<'SQL'
            SELECT CAST(title AS BLOB) FROM conversation UNION ALL SELECT CAST(book_name AS BLOB) FROM person
            UNION ALL SELECT CAST(own_name AS BLOB) FROM person UNION ALL SELECT CAST(other_numbers AS BLOB) FROM person
            SQL);
        while ($names instanceof \SQLite3Result && is_array($row = $names->fetchArray(\SQLITE3_NUM))) {
            $shown .= (is_string($row[0]) ? $row[0] : '')."\n";
        }

        return array_values(array_filter($found, static fn (string $word): bool => !str_contains($shown, $word)));
    }
}
