<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Tests\Mutation\Rooms;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Bundle\FrameworkBundle\Test\KernelTestCase;
use Symfony\Component\Console\Command\LazyCommand;

/** What a page tells is so: its commands are there as they are written, its tests by name, its figures are theirs. */
final class DocumentsTest extends KernelTestCase
{
    private const ROOT = __DIR__.'/../..';

    private const BY_DEFAULT = "/GESCHENK_SEEDS'\) \?: (\d+)\)/";

    /** Figures of docs/proof.md, each by the words around it, and where a test has it from. */
    private const FIGURES = [
        ['/ReadErrorsTest\.php`: (\d+) seeds/', 'tests/Standin/ReadErrorsTest.php', self::BY_DEFAULT],
        ['/`tests\/Crash`: (\d+) power cuts/', 'tests/Crash/PowerCutTest.php', "/GESCHENK_POWER_CUTS'\) \?: (\d+)\)/"],
        ['/`tests\/Core\/Archive` \((\d+) seeds/', 'tests/Core/Archive/BagTest.php', self::BY_DEFAULT],
        [
            '/DamageSeedsTest` \((\d+) seeds of each kind/', 'tests/Core/Messenger/Otterpost/DamageSeedsTest.php',
            self::BY_DEFAULT,
        ],
        [
            '/(\d+) seeds of damage on a phone that is merged with/',
            'tests/Core/Messenger/Otterpost/DamageSeedsTest.php', "/GESCHENK_SEEDS'\) \?: (?!15\))(\d+)\)/",
        ],
        ['/200 pairs, (\d+) of each way/', 'tests/Core/Conversion/TwoPhonesTest.php', self::BY_DEFAULT],
        ['/found on (\d+) orders of what is brought/', 'tests/App/Entity/BringingTest.php', '/SEEDS = (\d+);/'],
        ['/over (\d+) interruptions drawn by seed/', 'tests/Crash/FaultsTest.php', '/GreaterThanOrEqual\((\d+), /'],
    ];

    /** @return iterable<string, array{string}> */
    public static function pages(): iterable
    {
        $pages = [
            ...(array) glob(self::ROOT.'/*.md'), ...(array) glob(self::ROOT.'/docs/*.md'),
            ...(array) glob(self::ROOT.'/docs/*/*.md'),
        ];
        foreach ($pages as $page) {
            $page = substr((string) $page, strlen(self::ROOT) + 1);
            yield $page => [$page];
        }
    }

    #[DataProvider('pages')]
    public function testEachCommandIsThereWithTheOptionsThatAreTold(string $page): void
    {
        $application = new Application(self::bootKernel());
        self::assertStringNotContainsString('APP_ENV', self::read($page), "$page: the script sees to that.");
        self::assertStringNotContainsString('bin/console', self::read($page), $page);
        $written = '/\.\/geschenk console ([a-z]+:[a-z]+|user)([^`\n]*)/';
        preg_match_all($written, self::read($page), $told, \PREG_SET_ORDER);
        self::assertSame(1, preg_match('/\^console\\\\ \((\S+)\):/', self::read('geschenk'), $inDemo));
        foreach ($told as [, $name, $rest]) {
            self::assertTrue($application->has($name), "$page: $name");
            $command = $application->get($name);
            $command = $command instanceof LazyCommand ? $command->getCommand() : $command;
            $command->mergeApplicationDefinition();
            preg_match_all('/(?<!\S)\[?--([a-z-]+)/', $rest, $options);
            foreach ($options[1] as $option) {
                self::assertTrue($command->getDefinition()->hasOption($option), "$page: $name --$option");
            }
            self::assertSame(
                str_contains($command::class, '\\Demo\\'), 1 === preg_match("/^(?:$inDemo[1]):/", $name),
                "$page: $name, and whether it is of the demonstration alone",
            );
        }
        $this->addToAssertionCount(1);
    }

    #[DataProvider('pages')]
    public function testEachWordOfTheScriptIsOneThatItKnows(string $page): void
    {
        $script = self::read('geschenk');
        preg_match_all('/\.\/geschenk ([a-z][a-z-]*)/', self::read($page), $told);
        foreach ($told[1] as $word) {
            $case = "/^  (?:[a-z-]+\\|)*$word(?:\\|[a-z-]+)*\\)/m";
            self::assertMatchesRegularExpression($case, $script, "$page: $word");
        }
        $this->addToAssertionCount(1);
    }

    #[DataProvider('pages')]
    public function testWhatItNamesIsThere(string $page): void
    {
        $text = self::read($page);
        $rooms = 'core|src|standin|tests|web|config|install|migrations|docs';
        preg_match_all("/`((?:$rooms)\\/[\\w\\/.-]*\\w)\\/?`/", $text, $paths);
        foreach ($paths[1] as $path) {
            // Phones lie in the data folder; a class is called without its ending.
            $isThere = str_starts_with($path, 'standin/phones') || file_exists(self::ROOT.'/'.$path)
                || file_exists(self::ROOT."/$path.php");
            self::assertTrue($isThere, "$page: $path");
        }
        preg_match_all('/`([A-Z]\w+Test)`/', $text, $tests);
        $there = implode("\n", self::tests());
        foreach ($tests[1] as $test) {
            self::assertStringContainsString("/$test.php", $there, "$page: $test");
        }
        $this->addToAssertionCount(1);
    }

    public function testTheFiguresOfTheProofAreThoseOfTheTests(): void
    {
        $page = self::read('docs/proof.md');
        foreach (self::FIGURES as [$words, $test, $has]) {
            self::assertSame(1, preg_match($words, $page, $told), $words);
            self::assertSame(1, preg_match($has, self::read($test), $is), "$test: $has");
            self::assertSame((int) $is[1], (int) $told[1], $words);
        }
    }

    public function testTheSearchForUnnoticedChangesKnowsEveryRoomAndItsTests(): void
    {
        $rooms = glob(self::ROOT.'/core/*', \GLOB_ONLYDIR);
        self::assertIsArray($rooms);
        self::assertEqualsCanonicalizing(array_map(basename(...), $rooms), array_keys(Rooms::TESTS));
        foreach (Rooms::TESTS as $room => $tests) {
            foreach ($tests as $test) {
                self::assertFileExists(self::ROOT.'/'.$test, $room);
            }
        }
    }

    /** @return list<string> */
    private static function tests(): array
    {
        $tests = [];
        $folder = new \RecursiveIteratorIterator(new \RecursiveDirectoryIterator(self::ROOT.'/tests'));
        foreach ($folder as $file) {
            if ($file instanceof \SplFileInfo && str_ends_with($file->getFilename(), 'Test.php')) {
                $tests[] = $file->getPathname();
            }
        }

        return $tests;
    }

    private static function read(string $path): string
    {
        $text = file_get_contents(self::ROOT.'/'.$path);
        self::assertIsString($text);

        return $text;
    }
}
