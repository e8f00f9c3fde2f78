<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\Words\Language;
use Geschenk\App\Work\Import\ImportKind;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Import\Importer;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\ReadingCopy\FilePlaces;
use Geschenk\Core\ReadingCopy\Packing\Packing;
use Geschenk\Core\Transfer\WayIn;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** The words: whole in every language, none missing, none too many, and none outside the catalogues. */
final class CataloguesTest extends TestCase
{
    /**
     * Groups whose keys are put together of a code: what may stand behind the dot is held against the code's source.
     */
    private const CODED = [
        'failure', 'between', 'point', 'waits', 'step', 'log', 'loss', 'fault', 'hands',
        'where', 'who', 'kind', 'conversation', 'presence',
        'finding',
        'damage', 'notice', 'aspect', 'aspect_of', 'reason', 'call', 'delivery', 'phase', 'stage', 'state', 'role',
        'verdict', 'in_cupboard',
        'verdict_short', 'sum', 'outcome', 'point_state', 'language', 'backup', 'problem', 'shelf', 'app', 'month',
        'switched', 'errand', 'sheet_code', 'group', 'scope', 'left',
        'merge', 'keeping', 'hand', 'eyes', 'difference', 'across', 'remedy', 'sign_up',
        'lacking', 'run', 'bringing', 'way', 'copy_form', 'copy_column', 'copy_folder', 'copy_lacks', 'packing',
        'figures_what', 'figures_column', 'import_of', 'import_lacks',
    ];

    /** @return iterable<string, array{string}> */
    public static function languages(): iterable
    {
        foreach (Language::ALL as $language) {
            yield $language => [$language];
        }
    }

    #[DataProvider('languages')]
    public function testEveryLanguageHasTheSameKeysAndValidWords(string $language): void
    {
        $words = self::catalogue($language);
        self::assertSame(array_keys(self::catalogue('en')), array_keys($words));
        foreach ($words as $key => $message) {
            self::assertNotSame('', trim($message), $key);
            $format = \MessageFormatter::create($language, $message);
            self::assertNotNull($format, "$language $key is no ICU message: $message");
        }
    }

    public function testTheSameParametersAreNamedInEveryLanguage(): void
    {
        // A brace opens a parameter, within that one a branch, within that again a parameter.
        $params = static function (string $message): array {
            $names = [];
            $depth = 0;
            foreach (preg_split('/(?=[{}])/', $message) ?: [] as $part) {
                $depth -= str_starts_with($part, '}') ? 1 : 0;
                if (str_starts_with($part, '{')) {
                    if (0 === $depth % 2 && 1 === preg_match('/^\{\s*(\w+)/', $part, $name)) {
                        $names[$name[1]] = $name[1];
                    }
                    ++$depth;
                }
            }
            sort($names);

            return $names;
        };
        foreach (array_diff(Language::ALL, ['en']) as $language) {
            $other = self::catalogue($language);
            foreach (self::catalogue('en') as $key => $message) {
                self::assertSame($params($message), $params($other[$key] ?? ''), "$language $key");
            }
        }
    }

    public function testEveryKeyThatIsSaidIsThere(): void
    {
        $keys = self::catalogue('en');
        foreach (self::said() as $key => $file) {
            self::assertArrayHasKey($key, $keys, "$file says “{$key}”, which is in no catalogue.");
        }
    }

    public function testNoKeyIsLeftOver(): void
    {
        $said = self::said();
        $left = [];
        foreach (array_keys(self::catalogue('en')) as $key) {
            $group = strstr($key, '.', true);
            if (!isset($said[$key]) && !in_array($group, self::CODED, true)) {
                $left[] = $key;
            }
        }
        self::assertSame([], $left);
    }

    public function testWhatIsTakenHomeHasItsWordsAndNoneIsLeftOver(): void
    {
        $root = dirname(__DIR__, 2);
        $keys = [FilePlaces::OTHERS => 'copy_folder.'.FilePlaces::OTHERS];
        foreach (FileGroup::cases() as $group) {
            $keys[] = 'copy_folder.'.$group->value;
        }
        foreach (glob($root.'/src/ReadingCopy/Form/*.php') ?: [] as $file) {
            $class = 'Geschenk\\App\\ReadingCopy\\Form\\'.basename($file, '.php');
            self::assertTrue(is_a($class, Form::class, true), $file);
            array_push($keys, 'copy_form.'.$class::name(), 'copy_form.'.$class::name().'_how');
        }
        foreach (glob($root.'/core/ReadingCopy/Packing/{As,In}*.php', \GLOB_BRACE) ?: [] as $file) {
            $class = 'Geschenk\\Core\\ReadingCopy\\Packing\\'.basename($file, '.php');
            self::assertTrue(is_a($class, Packing::class, true), $file);
            $keys[] = 'packing.'.$class::name();
        }
        $there = array_filter(array_keys(self::catalogue('en')), static fn (string $key): bool => in_array(
            strstr($key, '.', true), ['copy_folder', 'copy_form', 'packing'], true,
        ));
        self::assertEqualsCanonicalizing(array_values($keys), array_values($there));
    }

    public function testEverySortOfImportHasItsWordsAndNoneIsLeftOver(): void
    {
        $sorts = ['import_of.'.Importers::ZIP];
        foreach (glob(dirname(__DIR__, 2).'/core/Import/*/*Importer.php') ?: [] as $file) {
            $class = 'Geschenk\\Core\\Import\\'.basename(dirname($file)).'\\'.basename($file, '.php');
            self::assertTrue(is_a($class, Importer::class, true), $file);
            $sorts[] = 'import_of.'.$class::name();
        }
        self::assertGreaterThan(3, count($sorts));
        self::assertEqualsCanonicalizing($sorts, array_values(array_filter(
            array_keys(self::catalogue('en')), static fn (string $key): bool => str_starts_with($key, 'import_of.'),
        )));
    }

    public function testEveryWayInHasItsWordsAndNoneIsLeftOver(): void
    {
        $ways = [];
        foreach (glob(dirname(__DIR__, 2).'/core/WayIn/*/*Way.php') ?: [] as $file) {
            $class = 'Geschenk\\Core\\WayIn\\'.basename(dirname($file)).'\\'.basename($file, '.php');
            self::assertTrue(is_a($class, WayIn::class, true), $file);
            $ways[] = $class::name();
        }
        self::assertGreaterThan(1, count($ways));
        $said = [];
        foreach (array_keys(self::catalogue('en')) as $key) {
            if (str_starts_with($key, 'way.')) {
                [, $name, $words] = explode('.', $key);
                $said[$name][] = $words;
            }
        }
        self::assertEqualsCanonicalizing([...$ways, ImportKind::WAY], array_keys($said));
        foreach ($said as $name => $words) {
            // How one more is made is said where a messenger can make it.
            $each = ['offer', 'taken', 'sheet', 'summed'];
            self::assertEqualsCanonicalizing($each, array_diff($words, ['make']), $name);
        }
    }

    public function testEveryFailurePointStepAndLossHasItsWords(): void
    {
        $keys = self::catalogue('en');
        $wanted = [];
        foreach (['core', 'src', 'standin'] as $house) {
            foreach (self::sources($house, 'php') as $source) {
                preg_match_all('/(?:new self|Refusal::because)\(\s*\'([a-z_]+)\'/', $source, $reasons);
                if (str_contains($source, 'extends Failure') || str_contains($source, 'Refusal::because')
                    || str_contains($source, 'extends UnusableInput')) {
                    array_push($wanted, ...array_map(static fn (string $r): string => 'failure.'.$r, $reasons[1]));
                }
                preg_match_all('/Stage::\w+, \$?\w+(?:->askedBy\(\))?, \'([a-z_]+)\'/', $source, $steps);
                array_push($wanted, ...array_map(static fn (string $s): string => 'step.'.$s, $steps[1]));
            }
        }
        foreach (LossRules::all() as $rule) {
            $wanted[] = sprintf('loss.%s.sentence', $rule->name());
            foreach (count($rule->choices()) > 1 ? $rule->choices() : [] as $choice) {
                $wanted[] = sprintf('loss.%s.%s', $rule->name(), $choice->key);
            }
        }
        self::assertGreaterThan(80, count($wanted));
        foreach ($wanted as $key) {
            self::assertArrayHasKey($key, $keys);
        }
    }

    /** A sentence in quotes is one that nobody can translate: words with a blank between, a capital and an end. */
    public function testNoSentenceStandsOutsideTheCatalogues(): void
    {
        $found = [];
        foreach (['src', 'core'] as $house) {
            foreach (self::sources($house, 'php') as $file => $source) {
                // What is for the command line's own help, for the log and for those who broke something inside.
                if (str_starts_with($file, 'src/Command/') || str_starts_with($file, 'src/Demo/')) {
                    continue;
                }
                $plain = preg_replace(['#/\*.*?\*/#s', '#//[^\n]*#'], '', $source) ?? '';
                $internal = '/(?:Logic|Runtime|UnexpectedValue)Exception\((?:sprintf\()?\'[^\']*\''
                    .'|logger->\w+\(\'[^\']*\'/';
                $plain = preg_replace($internal, '', $plain) ?? '';
                preg_match_all('/\'([A-Z][a-z]+(?: [\w%’,“”-]+){2,}[.?!]?)\'/u', $plain, $sentences);
                foreach ($sentences[1] as $sentence) {
                    $found[] = "$file: $sentence";
                }
            }
        }
        foreach (self::sources('web', 'vue') as $file => $source) {
            preg_match('#<template>(.*)</template>#s', $source, $template);
            $text = $template[1] ?? '';
            foreach (['/<!--.*?-->/s', '/="[^"]*"/s', '/\{\{.*?\}\}/s', '/<[^>]*>/s', '/&\w+;/'] as $markup) {
                $text = preg_replace($markup, ' ', $text) ?? '';
            }
            preg_match_all('/\b[A-Za-z]{3,}(?:\s+[A-Za-z]{2,})*/', $text, $words);
            foreach ($words[0] as $word) {
                if ('Esc' !== $word && 'Geschenk' !== $word) {
                    $found[] = "$file: $word";
                }
            }
            preg_match_all('/\s(?:label|aria-label|title|placeholder|hint|alt)="([^"]+)"/', $template[1] ?? '', $plain);
            foreach ($plain[1] as $said) {
                $found[] = "$file: $said";
            }
        }
        // The first is the beginning of a file format, the second is for those who read a log.
        $known = [
            'core/Messenger/Otterpost/Android/SealedBackup.php: Otterpost sealed backup',
            'core/Sqlite/UnexpectedValue.php: Column %s holds %s where %s belongs.',
        ];
        self::assertSame([], array_values(array_diff($found, $known)));
    }

    /** @return array<string, string> by key */
    private static function catalogue(string $language): array
    {
        $path = dirname(__DIR__, 2)."/translations/messages+intl-icu.$language.json";
        $tree = json_decode((string) file_get_contents($path), true, 8, \JSON_THROW_ON_ERROR);
        $flat = [];
        $walk = static function (array $part, string $above) use (&$walk, &$flat): void {
            foreach ($part as $name => $value) {
                is_array($value) ? $walk(
                    $value, $above.$name.'.',
                ) : $flat[$above.$name] = is_string($value) ? $value : '';
            }
        };
        $walk((array) $tree, '');

        return $flat;
    }

    /** @return array<string, string> the file in which each whole key is said, by key */
    private static function said(): array
    {
        $said = [];
        $groups = array_unique(array_map(
            static fn (string $key): string => (string) strstr($key, '.', true), array_keys(self::catalogue('en')),
        ));
        $houses = [['src', 'php'], ['standin', 'php'], ['web', 'vue'], ['web', 'ts'], ['templates', 'twig']];
        foreach ($houses as [$house, $ending]) {
            foreach (self::sources($house, $ending) as $file => $source) {
                if (str_contains($file, 'tests/')) {
                    continue;
                }
                preg_match_all('/\b(?:say|trans)\(\s*[\'"]([a-z_]+\.[a-z_0-9]+)[\'"]\s*[,)]/', $source, $calls);
                preg_match_all('/[\'"]([a-z_]+\.[a-z_0-9]+)[\'"]\|say/', $source, $filters);
                preg_match_all('/[?:=(] [\'"]([a-z_]+\.[a-z_0-9]+)[\'"]/', $source, $chosen);
                foreach ([...$calls[1], ...$filters[1], ...$chosen[1]] as $key) {
                    if (in_array(strstr($key, '.', true), $groups, true)) {
                        $said[$key] = $file;
                    }
                }
            }
        }

        return $said;
    }

    /** @return iterable<string, string> contents by path */
    private static function sources(string $house, string $ending): iterable
    {
        $root = dirname(__DIR__, 2).'/'.$house;
        foreach (Folder::files($root) as $file) {
            if (str_ends_with($file, '.'.$ending)) {
                yield $house.'/'.$file => (string) file_get_contents("$root/$file");
            }
        }
    }

    /** One list for whoever adds a language: what is told of them elsewhere is held against it. */
    public function testEveryPlaceKnowsTheSameLanguages(): void
    {
        $root = dirname(__DIR__, 2);
        $all = Language::ALL;
        $catalogues = array_map(
            static fn (string $path): string => (string) preg_replace('/.*icu\.(\w+)\.json$/', '$1', $path),
            glob($root.'/translations/messages+intl-icu.*.json') ?: [],
        );
        self::assertEqualsCanonicalizing($all, $catalogues);
        $api = (string) file_get_contents($root.'/docs/openapi.yaml');
        self::assertStringContainsString('Language: { type: string, enum: ['.implode(', ', $all).'] }', $api);
        $guides = (string) file_get_contents($root.'/docs/guides.schema.json');
        self::assertStringContainsString('"required": ["'.implode('", "', $all).'"]', $guides);
        $page = (string) file_get_contents($root.'/web/lib/say.ts');
        preg_match('/LANGUAGES: Record<Language, string> = \{([^}]*)\}/', $page, $listed);
        preg_match_all('/(\w+): \'/', $listed[1] ?? '', $names);
        self::assertSame($all, $names[1]);
        // Nobody else lists them: a type of the API's is what the pages have.
        $lists = "'en' \\| 'de'|'en', 'de'";
        $command = 'grep -rlE %s %s --include=*.vue --include=*.ts';
        $own = shell_exec(sprintf($command, escapeshellarg($lists), escapeshellarg($root.'/web')));
        self::assertSame([], array_filter(
            explode("\n", trim((string) $own)),
            static fn (string $path): bool => '' !== $path && !str_contains($path, 'schema.d.ts')
                && !str_contains($path, '/tests/'),
        ));
    }
}
