<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core;

use Geschenk\Core\Files\Durable\Folder;
use PhpParser\Node;
use PhpParser\NodeFinder;
use PhpParser\ParserFactory;
use PHPUnit\Framework\TestCase;

/** What takes more than five things takes an object that says what they are. Constructors make those. */
final class ParametersTest extends TestCase
{
    private const MOST = 5;

    public function testNoFunctionTakesMoreThanFive(): void
    {
        $parser = (new ParserFactory())->createForHostVersion();
        $finder = new NodeFinder();
        $long = [];
        $seen = 0;
        foreach (['core', 'src', 'standin'] as $house) {
            $root = dirname(__DIR__, 2).'/'.$house;
            foreach (Folder::files($root) as $path) {
                $nodes = str_ends_with($path, '.php')
                    ? $parser->parse((string) file_get_contents("$root/$path")) ?? []
                    : [];
                foreach ($finder->findInstanceOf($nodes, Node\FunctionLike::class) as $function) {
                    ++$seen;
                    $name = $function instanceof Node\Stmt\ClassMethod ? $function->name->toString() : '{closure}';
                    if ('__construct' !== $name && count($function->getParams()) > self::MOST) {
                        $long[] = "$house/$path: $name()";
                    }
                }
            }
        }
        self::assertSame([], $long);
        self::assertGreaterThan(2_000, $seen);
    }
}
