<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** What a check finds missing is brought, and nothing but that; and the way back stays the one it was. */
final class BringMissingTest extends ApiTestCase
{
    /** @return iterable<string, array{string}> */
    public static function harms(): iterable
    {
        yield 'messages and files are gone' => ['DELETE FROM ZSLIP WHERE Z_PK % 7 = 0'];
        yield 'texts were changed, and a conversation is pinned' => [
            "UPDATE ZSLIP SET ZBODY = ZBODY || '!' WHERE Z_PK % 9 = 0 AND ZBODY IS NOT NULL;"
                .'UPDATE ZROOM SET ZPINPLACE = 9 WHERE Z_PK = (SELECT MAX(Z_PK) FROM ZROOM)',
        ];
    }

    #[DataProvider('harms')]
    public function testWhatIsMissingIsBroughtAndTheRestStays(string $harm): void
    {
        $this->signIn();
        $n = $this->openTray();
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $refused = $this->refusal('POST', "/api/trays/$n/moves/1/missing", null);
        self::assertSame('nothing_missing', $refused);
        $this->harm($harm);
        $this->askAndWork($n, ['kind' => 'check']);
        $first = self::numbers($this->move($n)['arrival']);
        $harmed = $this->value($this->move($n), 'checks', 0, 'id');
        $whole = $this->value($this->move($n), 'checks', 1, 'id');
        self::assertIsInt($harmed);
        self::assertIsInt($whole);
        $since = "/api/trays/$n/moves/1/arrival/since";
        self::assertSame('not_an_earlier_check', $this->refusal(
            'GET', "$since?check=$whole&earlier=$harmed", null,
        ));
        self::assertFalse($this->value($this->move($n), 'arrival', 'complete'));

        if (str_starts_with($harm, 'UPDATE ZSLIP')) {
            $this->assertTheTwoStandSideBySide($n);
        }
        $this->call('POST', "/api/trays/$n/moves/1/missing", null, 202);
        $this->work();
        $this->look();
        $move = $this->move($n);
        self::assertTrue($move['completes']);
        self::assertSame('restore', $move['stage'], (string) json_encode($move));
        self::assertIsArray($move['safety_copy'], 'The way back is there meanwhile.');
        if (str_starts_with($harm, 'DELETE')) {
            // Some are there and lack what was answered: these are on both.
            self::assertLessThanOrEqual($first['missing'], $this->value($move, 'merge', 'brought'));
            self::assertGreaterThan(10, $this->value($move, 'merge', 'brought'));
        }
        // What is there does not go over the cable again: the chats, and what is missing of the files.
        Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 400_000]);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertCount(1, $this->receiving->state()['faults'], 'It was not so much.');
        $this->receiving->change(static fn (array $state): array => ['faults' => []] + $state);
        $move = $this->move($n);
        self::assertTrue($this->value($move, 'arrival', 'complete'), (string) json_encode($move['arrival']));
        self::assertSame($first['messages'], $this->value($move, 'arrival', 'messages'), 'The sum is the same.');
        self::assertFalse($move['completes']);
        // Which came first is not told by the second in which they were.
        $records = self::getContainer()->get(EntityManagerInterface::class);
        $records->getConnection()->executeStatement(
            'UPDATE arrival_check SET at = (SELECT MAX(at) FROM arrival_check)',
        );
        $records->clear();
        $told = $this->call('GET', "$since?earlier=$harmed");
        self::assertSame($first['missing'], $this->value($told, 'totals_then', 'missing'));
        $turned = (array) $told['conversations'];
        self::assertNotSame([], $turned);
        self::assertSame(0, array_sum(array_column($turned, 'came_up')));
        self::assertSame(0, array_sum(array_column($turned, 'missing_now')));
        self::assertSame($first['missing'], array_sum(array_column($turned, 'missing_then')));
        self::assertSame([], $this->call('GET', "$since?earlier=$whole")['conversations']);
        // All that was there is there once.
        $this->look();
        $counts = (array) $this->value(
            $this->call('GET', "/api/trays/$n"), 'phones', 1, 'live', 'accounts', 0, 'holds', 'counts',
        );
        $totals = self::numbers($move['arrival']);
        self::assertSame(
            $totals['arrived'] + $totals['changed'] + $totals['added'] + $totals['kept'], $counts['messages'],
        );
        // A message without an id whose words were changed can't be known to be the same.
        self::assertLessThanOrEqual(str_starts_with($harm, 'UPDATE ZSLIP') ? 3 : 0, $totals['kept']);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
    }

    /** Field by field, and covered: how long a text is and where it parts, never what it says. */
    private function assertTheTwoStandSideBySide(int $n): void
    {
        $sides = [];
        foreach ((array) $this->call('GET', "/api/trays/$n/moves/1/arrival")['conversations'] as $row) {
            self::assertIsArray($row);
            if ('missing' !== $row['verdict'] || !is_int($row['id'])) {
                continue;
            }
            $findings = $this->call('GET', "/api/trays/$n/moves/1/arrival/{$row['id']}")['findings'];
            foreach ((array) $findings as $finding) {
                foreach ((array) $this->value((array) $finding, 'sides') as $side) {
                    $sides[] = $side;
                }
            }
        }
        self::assertNotSame([], $sides);
        foreach ($sides as $side) {
            self::assertIsArray($side);
            self::assertSame('text', $side['aspect']);
            self::assertIsString($side['meant']);
            self::assertIsString($side['there']);
            $pattern = '/^([\d,]+) characters?, another from character ([\d,]+) on$/';
            self::assertSame(1, preg_match($pattern, $side['meant'], $meant), $side['meant']);
            self::assertSame(1, preg_match($pattern, $side['there'], $there), $side['there']);
            $number = static fn (string $told): int => (int) str_replace(',', '', $told);
            self::assertSame($number($meant[1]) + 1, $number($there[1]));
            self::assertSame($number($there[1]), $number($there[2]), 'The last one is on top.');
        }
    }

    private function harm(string $sql): void
    {
        $data = $this->receiving->data('otterpost');
        if (str_starts_with($sql, 'DELETE')) {
            foreach (iterator_to_array(Folder::files($data), false) as $n => $path) {
                if (0 === $n % 3 && !str_contains($path, 'Pouch.sqlite') && !str_contains($path, 'peek')) {
                    unlink($data.'/'.$path);
                }
            }
        }
        $database = new \SQLite3($data.'/Pouch.sqlite');
        $database->exec($sql);
        $database->close();
    }

    /** @return array<string, int> those of the values that are numbers */
    private static function numbers(mixed $values): array
    {
        $numbers = [];
        foreach ((array) $values as $name => $value) {
            if (is_int($value)) {
                $numbers[(string) $name] = $value;
            }
        }

        return $numbers;
    }
}
