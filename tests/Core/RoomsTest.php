<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core;

use Geschenk\Core\Files\Durable\Folder;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Who may know whom: the rooms of core and of the application, without circles. docs/architecture.md has the same. */
final class RoomsTest extends TestCase
{
    /** Everybody knows what lies in core's root: failures and progress. */
    private const CORE = [
        'Chat' => [],
        'Files' => ['Chat'],
        'Sqlite' => ['Files'],
        'Store' => ['Chat', 'Files', 'Sqlite'],
        'Messenger' => ['Chat', 'Files', 'Sqlite', 'Store'],
        'Merge' => ['Chat', 'Files', 'Sqlite', 'Store'],
        'Arrival' => ['Chat', 'Files', 'Sqlite', 'Store'],
        'Conversion' => ['Arrival', 'Chat', 'Files', 'Merge', 'Messenger', 'Sqlite', 'Store'],
        'Phone' => ['Chat', 'Files'],
        'Seal' => ['Files'],
        'Archive' => ['Chat', 'Files', 'Messenger', 'Seal', 'Sqlite', 'Store'],
        'Transfer' => ['Archive', 'Arrival', 'Chat', 'Files', 'Messenger', 'Phone', 'Sqlite', 'Store'],
        'WayIn' => ['Files', 'Messenger', 'Phone', 'Transfer'],
        'Import' => ['Archive', 'Chat', 'Files', 'Messenger', 'Sqlite', 'Store', 'Transfer'],
        'SecondPlace' => ['Files', 'Seal'],
        'Stick' => ['Files'],
        'ReadingCopy' => ['Archive', 'Chat', 'Conversion', 'Files', 'Messenger', 'Sqlite', 'Store'],
    ];
    /** Everybody knows what lies in the application's root: where its data is, how it changes, how it refuses. */
    private const APP = [
        'Entity' => [],
        'Log' => ['Entity'],
        'Runs' => ['Entity'],
        'Files' => ['Entity', 'Runs'],
        'Clock' => ['Entity', 'Log'],
        'Bench' => ['Entity', 'Log', 'Runs'],
        'Words' => ['Entity'],
        'ReadingCopy' => ['Entity', 'Words'],
        'Figures' => ['Entity', 'Runs'],
        'SecondPlace' => [],
        'Contacts' => [],
        'Customer' => ['Entity'],
        'Guide' => [],
        'Tray' => ['Bench', 'Customer', 'Entity', 'Files', 'Log', 'Runs'],
        'Security' => ['Entity', 'Http', 'Log', 'Words'],
        'Work' => [
            'Bench', 'Clock', 'Contacts', 'Customer', 'Entity', 'Files', 'Log', 'ReadingCopy', 'Runs',
            'SecondPlace', 'Security', 'Tray',
        ],
        'Http' => ['Words'],
        'View' => ['Bench', 'Customer', 'Entity', 'Figures', 'Files', 'Guide', 'Http', 'Tray', 'Words'],
        'Uncover' => ['Entity', 'Log'],
        'Controller' => [
            'Bench', 'Clock', 'Customer', 'Entity', 'Figures', 'Files', 'Http', 'Log', 'ReadingCopy', 'Runs',
            'SecondPlace', 'Security', 'Tray', 'Uncover', 'View', 'Words', 'Work',
        ],
        'Command' => [
            'Bench', 'Clock', 'Entity', 'Files', 'Guide', 'Http', 'Log', 'SecondPlace', 'Security', 'Tray', 'Uncover',
            'View', 'Words', 'Work',
        ],
        'Demo' => ['Bench', 'Entity', 'Files', 'Http', 'Log', 'Runs', 'SecondPlace', 'Tray', 'Words', 'Work'],
    ];

    /** @return iterable<string, array{string, string, array<string, list<string>>}> */
    public static function houses(): iterable
    {
        yield 'core' => ['core', 'Geschenk\\Core\\', self::CORE];
        yield 'the application' => ['src', 'Geschenk\\App\\', self::APP];
    }

    /** @param array<string, list<string>> $table */
    #[DataProvider('houses')]
    public function testEachRoomKnowsOnlyWhomItMay(string $folder, string $namespace, array $table): void
    {
        $found = $this->arrows($folder, $namespace);
        self::assertSame([], array_diff(array_keys($found), array_keys($table)), 'A room that is not in the table.');
        foreach ($found as $room => $known) {
            self::assertSame([], array_values(array_diff($known, $table[$room])), "What $room may not know.");
        }
    }

    /** @param array<string, list<string>> $table */
    #[DataProvider('houses')]
    public function testTheTableHasNoCircle(string $folder, string $namespace, array $table): void
    {
        $left = $table;
        while ([] !== $left) {
            $free = array_keys(array_filter($left, static fn (array $known): bool => [] === $known));
            self::assertNotSame([], $free, 'A circle among '.implode(', ', array_keys($left)).'.');
            $left = array_map(
                static fn (array $known): array => array_diff($known, $free),
                array_diff_key($left, array_flip($free)),
            );
        }
    }

    public function testTheStandinsAreKnownToTheDemonstrationAlone(): void
    {
        $knowing = [];
        foreach (Folder::files(dirname(__DIR__, 2).'/src') as $file) {
            $text = (string) file_get_contents(dirname(__DIR__, 2).'/src/'.$file);
            if (str_contains($text, 'Geschenk\\Standin') && !str_starts_with($file, 'Demo/')) {
                $knowing[] = $file;
            }
        }
        self::assertSame([], $knowing);
    }

    /** @return array<string, list<string>> rooms that each room of a house uses, by their imports */
    private function arrows(string $folder, string $namespace): array
    {
        $root = dirname(__DIR__, 2).'/'.$folder;
        $arrows = [];
        foreach (Folder::files($root) as $file) {
            if (!str_ends_with($file, '.php') || !str_contains($file, '/')) {
                continue;
            }
            $room = (string) strstr($file, '/', true);
            $arrows[$room] ??= [];
            preg_match_all(
                '/^use '.preg_quote($namespace, '/').'(\w+)\\\\/m', (string) file_get_contents("$root/$file"), $used,
            );
            foreach ($used[1] as $other) {
                if ($other !== $room && !in_array($other, $arrows[$room], true)) {
                    $arrows[$room][] = $other;
                }
            }
        }

        return $arrows;
    }
}
