<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Messenger\Otterpost\Ios\IosSchema;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Sqlite\Row;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What iOS derives from its rows, recomputed from scratch and held against what was written. */
final class IosHousekeepingTest extends TestCase
{
    use Scratch;

    /** @return list<array{int}> */
    public static function seeds(): array
    {
        return [[1], [7], [19], [4711]];
    }

    #[DataProvider('seeds')]
    public function testDerivedValuesAreRight(int $seed): void
    {
        $chats = Chats::random($seed, $this->path('x.sqlite'), $this->path('files'), 'ios');
        Chats::through($chats, $this->path('files'), Chats::format('ios'), $this->path('out'), $this->path('y.sqlite'));
        $database = Database::openReadOnly($this->path('out/'.IosSchema::DATABASE));
        self::assertSame('ok', $database->one('PRAGMA integrity_check')?->text('integrity_check'));
        self::assertSame([], $database->few('PRAGMA foreign_key_check'));
        foreach (IosSchema::ENTITIES as $entity => $number) {
            $table = 'Z'.strtoupper($entity);
            $max = $database->one(
                'SELECT COALESCE(MAX(Z_PK), 0) AS m, '
                    ."SUM(Z_ENT <> $number) AS wrong, SUM(Z_OPT IS NOT 1) AS unset FROM $table",
            ) ?? new Row([]);
            $key = $database->one('SELECT * FROM Z_PRIMARYKEY WHERE Z_NAME = ?', [$entity]) ?? new Row([]);
            self::assertSame([$number, $max->int('m')], [$key->int('Z_ENT'), $key->int('Z_MAX')], $entity);
            self::assertSame([0, 0], [$max->nullableInt('wrong') ?? 0, $max->nullableInt('unset') ?? 0], $entity);
        }
        $rooms = 0;
        foreach ($database->few('SELECT * FROM ZROOM') as $room) {
            ++$rooms;
            $id = $room->int('Z_PK');
            $last = $database->one('SELECT Z_PK, ZSENT FROM ZSLIP WHERE ZROOM = ? ORDER BY ZPLACE DESC LIMIT 1', [$id]);
            self::assertSame(
                $database->one('SELECT COUNT(*) AS n FROM ZSLIP WHERE ZROOM = ?', [$id])?->int('n'),
                $room->int('ZSLIPCOUNT'),
            );
            self::assertSame($last?->int('Z_PK'), $room->nullableInt('ZLASTSLIP'));
            self::assertSame(
                $last?->nullableFloat('ZSENT') ?? $room->nullableFloat('ZFOUNDED') ?? 0.0,
                $room->nullableFloat('ZSORTRANK'),
            );
            self::assertSame(
                $chats->conversation(str_replace('~stream', '', $room->text('ZHANDLE')))?->conversation->unread,
                $room->int('ZUNREAD'),
            );
            self::assertSame(
                [],
                $database->few(
                    'SELECT ZPLACE FROM ZSLIP s WHERE ZROOM = ? AND ZPLACE <> (SELECT COUNT(*) FROM ZSLIP t '
                        .'WHERE t.ZROOM = s.ZROOM AND t.Z_PK <= s.Z_PK)',
                    [$id],
                ),
            );
        }
        self::assertSame(count($chats->overview()), $rooms);
        self::assertSame(
            0,
            $database->one(
                'SELECT COUNT(*) AS n FROM ZSLIP WHERE ZROOMFOLK IS NOT NULL AND ZROOMFOLK NOT IN (SELECT Z_PK '
                    .'FROM ZROOMFOLK WHERE ZROOM = ZSLIP.ZROOM)',
            )?->int('n'),
        );
        self::assertSame(
            1,
            $database->one(
                'SELECT COUNT(*) AS n FROM Z_METADATA WHERE Z_VERSION = 3 AND length(Z_UUID) = 36',
            )?->int('n'),
        );
    }

    public function testEverySlipHasItsOwnCopyOfASharedFileInTheFolderOfItsRoom(): void
    {
        $chats = Chats::random(7, $this->path('x.sqlite'), $this->path('files'), 'ios');
        Chats::through($chats, $this->path('files'), Chats::format('ios'), $this->path('out'), $this->path('y.sqlite'));
        $paths = array_map(
            static fn (Row $r): string => $r->text('ZPATH'),
            Database::openReadOnly($this->path('out/'.IosSchema::DATABASE))->few(
                'SELECT ZPATH FROM ZPARCEL WHERE ZPATH IS NOT NULL',
            ),
        );
        self::assertNotEmpty($paths);
        self::assertSame($paths, array_values(array_unique($paths)));
        foreach ($paths as $path) {
            self::assertMatchesRegularExpression('#^Parcels/R\d{5}/\d{7}(-[^/:]{1,80})?\.[a-z0-9]{1,8}$#', $path);
            self::assertFileExists($this->path('out/'.$path));
        }
    }
}
