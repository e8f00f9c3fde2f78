<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core;

use PHPUnit\Framework\TestCase;
use Symfony\Component\Finder\Finder;

/** No line of PHP is longer than what two files beside each other leave room for; nothing else in the tests says so. */
final class LinesTest extends TestCase
{
    private const LONGEST = 120;

    public function testNoLineIsTooLong(): void
    {
        $root = dirname(__DIR__, 2);
        $folders = array_map(
            static fn (string $folder): string => $root.'/'.$folder,
            ['core', 'src', 'standin', 'tests', 'migrations', 'config', 'public'],
        );
        // The framework writes this one itself.
        $files = (new Finder())->files()->in($folders)->name('*.php')->notPath('reference.php')->exclude('build');
        $long = [];
        foreach ($files as $file) {
            foreach (explode("\n", $file->getContents()) as $at => $line) {
                if (mb_strlen($line) > self::LONGEST) {
                    $long[] = sprintf('%s:%d', $file->getRelativePathname(), $at + 1);
                }
            }
        }
        $others = '{geschenk,install/*.*,install/systemd/*,install/systemd/*/*,tests/Install/*}';
        foreach (glob($root.'/'.$others, \GLOB_BRACE) ?: self::fail('Nothing there.') as $file) {
            $lines = is_file($file) ? explode("\n", (string) file_get_contents($file)) : [];
            foreach ($lines as $at => $line) {
                if (mb_strlen($line) > self::LONGEST) {
                    $long[] = sprintf('%s:%d', $file, $at + 1);
                }
            }
        }
        self::assertSame([], $long);
        self::assertGreaterThan(300, $files->count());
    }
}
