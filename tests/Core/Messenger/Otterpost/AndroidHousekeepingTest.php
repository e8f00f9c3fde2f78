<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What the writer derives is computed again from the rows; every reference leads somewhere. */
final class AndroidHousekeepingTest extends TestCase
{
    use Scratch;

    public function testCountersAndReferencesAreRight(): void
    {
        foreach ([3, 11, 42, 4711] as $seed) {
            $chats = Chats::random($seed, $this->path("x$seed.sqlite"), $this->path("files$seed"), null);
            Expectation::of(Chats::format('android')->capabilities())->build(
                $chats, $this->path("e$seed.sqlite"), new NoProgress(),
            );
            Chats::through(
                new ChatStore($this->path("e$seed.sqlite")), $this->path("files$seed"), Chats::format('android'),
                $this->path("out$seed"), $this->path("y$seed.sqlite"),
            );
            $database = Database::openReadOnly($this->path("out$seed/".AndroidSchema::DATABASE));
            self::assertSame('ok', $database->one('PRAGMA integrity_check')?->text('integrity_check'));
            self::assertSame([], $database->few('PRAGMA foreign_key_check'));
            self::assertSame(
                [],
                $database->few(
                    'SELECT room_id FROM room r WHERE last_slip_id IS NOT (SELECT MAX(slip_id) FROM slip s '
                        .'WHERE s.room_id = r.room_id)',
                ),
            );
            $references = [
                'slip' => [
                    'room_id' => 'room', 'folk_id' => 'folk', 'notice_folk_id' => 'folk', 'notice_target_id' => 'folk',
                ], 'room_folk' => [
                    'room_id' => 'room', 'folk_id' => 'folk',
                ], 'nod' => ['slip_id' => 'slip', 'folk_id' => 'folk'],
                'mark' => [
                    'slip_id' => 'slip', 'folk_id' => 'folk',
                ], 'mention' => [
                    'slip_id' => 'slip', 'folk_id' => 'folk',
                ], 'parcel' => ['slip_id' => 'slip'], 'ballot_vote' => [
                    'slip_id' => 'ballot', 'folk_id' => 'folk',
                ], 'folk_number' => ['folk_id' => 'folk'],
                'spot' => [
                    'slip_id' => 'slip',
                ], 'card' => ['slip_id' => 'slip'], 'ballot' => ['slip_id' => 'slip'], 'ballot_answer' => [
                    'slip_id' => 'ballot',
                ], 'ring' => ['slip_id' => 'slip'], 'link' => [
                    'slip_id' => 'slip',
                ], 'offer' => ['slip_id' => 'slip'], 'withdrawn' => ['slip_id' => 'slip'],
            ];
            foreach ($references as $table => $columns) {
                foreach ($columns as $column => $to) {
                    $key = 'ballot' === $to ? 'slip_id' : $to.'_id';
                    $lost = "SELECT COUNT(*) AS n FROM $table
                        WHERE $column IS NOT NULL AND $column NOT IN (SELECT $key FROM $to)";
                    self::assertSame(0, $database->one($lost)?->int('n'), "$table.$column");
                }
            }
        }
    }

    public function testOneFileIsStoredOnceHoweverManySlipsShowIt(): void
    {
        $chats = Chats::random(9, $this->path('x.sqlite'), $this->path('files'), 'android');
        Chats::through(
            $chats, $this->path('files'), Chats::format('android'), $this->path('out'), $this->path('y.sqlite'),
        );
        $hashes = [];
        foreach (\Geschenk\Core\Files\Durable\Folder::files($this->path('out/parcels')) as $file) {
            self::assertMatchesRegularExpression('#^[a-z]+/\d{6}(-[^/:?*<>|"\\\\]{1,80})?\.[a-z0-9]{1,8}$#u', $file);
            $hashes[] = hash_file('sha256', $this->path('out/parcels/'.$file)).strrchr($file, '.');
        }
        self::assertNotEmpty($hashes);
        self::assertSame($hashes, array_values(array_unique($hashes)));
    }
}
