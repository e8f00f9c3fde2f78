<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Core\Files\Durable\Folder;
use PHPUnit\Framework\TestCase;

final class PhaseWordsTest extends TestCase
{
    /** Each phase that work tells has its words on the page and in the interface, and no others have. */
    public function testEachPhaseHasItsWords(): void
    {
        $root = dirname(__DIR__, 2);
        $told = [];
        foreach (['core', 'src'] as $room) {
            foreach (Folder::files($root.'/'.$room) as $file) {
                preg_match_all('/->phase\(\'(\w+)\'/', (string) file_get_contents("$root/$room/$file"), $found);
                $told = [...$told, ...$found[1]];
            }
        }
        $told = array_values(array_unique($told));
        sort($told);
        $words = json_decode(
            (string) file_get_contents($root.'/translations/messages+intl-icu.en.json'), true,
            flags: \JSON_THROW_ON_ERROR,
        );
        self::assertIsArray($words);
        self::assertIsArray($words['phase']);
        // A run that waits is in no phase yet.
        $shown = array_diff_key($words['phase'], ['none' => true]);
        preg_match('/## Phases\n(.*?)\n## /s', (string) file_get_contents($root.'/docs/interface.md'), $page);
        preg_match_all('/^\| `(\w+)` \| (.+?) \|/m', $page[1] ?? '', $listed);
        $listed = array_combine($listed[1], $listed[2]);
        self::assertSame($shown, $listed);
        ksort($listed);
        self::assertSame($told, array_keys($listed));
    }
}
