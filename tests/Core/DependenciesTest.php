<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core;

use Geschenk\Core\Files\Durable\Folder;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Dependencies point inwards: the core knows nobody, the stand-ins know the core. */
final class DependenciesTest extends TestCase
{
    /** @return iterable<string, array{string, string}> */
    public static function layers(): iterable
    {
        yield 'core' => ['core', '/^Geschenk\\\\Core\\\\/'];
        yield 'standin' => ['standin', '/^Geschenk\\\\(Core|Standin)\\\\|^(?:Random|FFI)\\\\/'];
    }

    #[DataProvider('layers')]
    public function testALayerUsesOnlyWhatItMay(string $folder, string $allowed): void
    {
        $root = dirname(__DIR__, 2).'/'.$folder;
        $files = 0;
        foreach (Folder::files($root) as $file) {
            ++$files;
            // Read as PHP reads it, so that a name in a string or a comment does not count and one in an expression
            // does.
            foreach (\PhpToken::tokenize((string) file_get_contents($root.'/'.$file)) as $token) {
                if ($token->is([\T_NAME_QUALIFIED, \T_NAME_FULLY_QUALIFIED])) {
                    $name = ltrim($token->text, '\\');
                    if (str_contains($name, '\\') && 1 !== preg_match('/^(Rule|Messenger)\\\\/', $name)) {
                        self::assertMatchesRegularExpression($allowed, $name.'\\', $file);
                    }
                }
            }
        }
        self::assertGreaterThan(10, $files);
    }
}
