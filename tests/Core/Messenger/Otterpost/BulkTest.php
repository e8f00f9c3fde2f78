<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidReader;
use Geschenk\Core\Messenger\Otterpost\Ios\IosReader;
use Geschenk\Core\Messenger\Reader;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** Moving plain slips by SQL gives the same chat store as making an object of each. */
final class BulkTest extends TestCase
{
    use Scratch;
    use TestTrait;

    private int $run = 0;

    public function testRandomChats(): void
    {
        $this->limitTo(40)->forAll(
            Generators::choose(1, 1_000_000), Generators::elements('android', 'ios'),
        )->then(function (int $seed, string $platform): void {
            $here = $this->path('r'.++$this->run);
            mkdir($here);
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', $platform);
            Chats::format($platform)->writer()?->write(
                $chats, new FolderFiles($here.'/files'), $here.'/out', new NoProgress(),
            );
            $this->assertSameEitherWay(
                'ios' === $platform ? new IosReader() : new AndroidReader(),
                'ios' === $platform ? new IosReader(false) : new AndroidReader(false), $here.'/out', $here,
            );
        });
    }

    public function testThePhoneOfTheDemonstrationWithItsAwkwardRows(): void
    {
        $phone = Phones::giving($this->path(), slips: 900)->data('otterpost');
        $this->assertSameEitherWay(new AndroidReader(), new AndroidReader(false), $phone, $this->path());
    }

    public function testWordsThatJsonEscapes(): void
    {
        $phone = Phones::giving($this->path(), slips: 200)->data('otterpost');
        $database = new \SQLite3($phone.'/pouch.db');
        $database->exec("UPDATE nod SET sign = CASE rowid % 6
                WHEN 0 THEN 'a\"b' WHEN 1 THEN 'back\\slash' WHEN 2 THEN 'base64:AAAA'
                WHEN 3 THEN char(8232) WHEN 4 THEN CAST(x'FF41' AS TEXT) ELSE char(7) END;
            UPDATE folk SET handle = 'say \"hi\"~river' WHERE folk_id = 2; UPDATE nod SET given_ms = 'soon'
                WHERE rowid = 2; UPDATE mark SET read_ms = 1.5 WHERE rowid = 3; UPDATE slip SET wire_id = ''
                    WHERE slip_id = 5; UPDATE parcel SET octets = 'many' WHERE parcel_id = 2");
        $database->close();
        $this->assertSameEitherWay(new AndroidReader(), new AndroidReader(false), $phone, $this->path());
    }

    public function testRowsThatCanNotBeUsedTakeTheirFilesWithThemAndNobodyElses(): void
    {
        $phone = Phones::giving($this->path(), slips: 300)->data('otterpost');
        $database = new \SQLite3($phone.'/pouch.db');
        $with = static fn (int $skip): string => '(SELECT DISTINCT slip_id FROM parcel ORDER BY slip_id '
            ."LIMIT 3 OFFSET $skip)";
        $database->exec("UPDATE slip SET sent_ms = 'never' WHERE slip_id IN {$with(2)};
            UPDATE slip SET edited_ms = sent_ms + 1000 WHERE slip_id IN {$with(6)};
            UPDATE slip SET sort = 4711 WHERE slip_id IN {$with(9)};
            INSERT INTO parcel (slip_id, store_name, media_type, octets) SELECT slip_id, store_name, media_type, octets
                FROM parcel WHERE slip_id IN {$with(8)};
            UPDATE room_folk SET since_ms = 'once' WHERE rowid = 1; UPDATE nod SET sign = x'F09F' WHERE rowid = 1;
            UPDATE mark SET heard_ms = x'00' WHERE rowid = 2;
            INSERT INTO mark VALUES (999999, 1, 1, 1, 1), ('nowhere', 1, 1, 1, 1)");
        $database->close();
        $store = $this->assertSameEitherWay(new AndroidReader(), new AndroidReader(false), $phone, $this->path());
        self::assertSame(
            0, array_sum(array_column($store['conversation'], 'lost')), 'A value that is none costs no message.',
        );
        self::assertSame(
            3,
            array_column(
                array_filter($store['finding'], static fn (array $f): bool => 'value_unreadable' === $f['code']),
                'count', 'subject',
            )['slip.sent_ms'] ?? 0,
        );
        self::assertNotContains(
            'unknown', array_column($store['conversation'], 'kind'), 'A member who can’t be read costs no settings.',
        );
        $withFiles = array_column(
            array_filter($store['message'], static fn (array $m): bool => null !== $m['attachments']), 'message_id',
        );
        self::assertGreaterThan(20, count($withFiles));
        self::assertEqualsCanonicalizing(
            $withFiles, array_keys(array_column($store['attachment'], null, 'message_id')),
            'No file without its message, none of another.',
        );
    }

    /** @return array<string, list<array<array-key, mixed>>> the store's rows by table */
    private function assertSameEitherWay(Reader $bulk, Reader $objects, string $folder, string $here): array
    {
        /** @var array<int, array<string, list<array<array-key, mixed>>>> $stores */
        $stores = [];
        foreach ([$bulk, $objects] as $n => $reader) {
            $path = $here."/either-$n.sqlite";
            $store = new StoreWriter($path);
            $reader->read($folder, new FolderFiles($folder), $store, new NoProgress());
            $store->finish();
            $database = new \SQLite3($path, \SQLITE3_OPEN_READONLY);
            foreach ([
                'conversation' => 'conversation_id', 'message' => 'message_id', 'person' => 'person_id',
                'finding' => 'code, subject', 'attachment' => 'message_id, attachment_id',
            ] as $table => $order) {
                $rows = $database->query("SELECT * FROM $table ORDER BY $order");
                self::assertInstanceOf(\SQLite3Result::class, $rows);
                $stores[$n][$table] = [];
                while (is_array($row = $rows->fetchArray(\SQLITE3_ASSOC))) {
                    // Ids of attachments follow the way in which they came; their order within a message is what
                    // counts.
                    unset($row['attachment_id']);
                    $stores[$n][$table][] = $row;
                }
            }
            unlink($path);
        }
        foreach ($stores[0] ?? [] as $table => $rows) {
            self::assertEquals($stores[1][$table] ?? null, $rows, $table);
        }
        self::assertNotEmpty($stores[0]['conversation'] ?? []);

        return $stores[0] ?? [];
    }
}
