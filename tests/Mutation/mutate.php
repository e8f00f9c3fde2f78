<?php

/*
 * Changes one thing at a time in the rooms that carry the promises, and asks the tests whether they notice.
 *
 *     composer mutate -- [--rooms=Arrival,Restore,Conversion,Archive] [--sample=N] [--seed=S] [--least=90]
 *
 * Every change takes a run of tests, so all of them take hours; --sample takes N of each room by seed. Ends with 1 when
 * fewer than --least per cent are noticed. A change that makes a test run for more than two minutes counts as noticed.
 */

declare(strict_types=1);

use PhpParser\Node;
use PhpParser\Node\Expr;
use PhpParser\Node\Expr\BinaryOp;
use PhpParser\NodeFinder;
use PhpParser\ParserFactory;

require dirname(__DIR__, 2).'/vendor/autoload.php';

const ROOT = __DIR__.'/../..';
/** Asked in this order, the quick ones first. */
const TESTS = [
    'Arrival' => ['tests/Core/Arrival/ComparisonTest.php', 'tests/Core/Conversion', 'tests/Core/Arrival/HarmTest.php'],
    'Restore' => ['tests/Core/Restore', 'tests/Standin/BackupAndRestoreTest.php', 'tests/App/Work'],
    'Conversion' => ['tests/Core/Conversion', 'tests/Core/Arrival/ComparisonTest.php', 'tests/Core/Messenger/Otterpost/RoundTripTest.php'],
    'Archive' => ['tests/Core/Archive', 'tests/Standin/BackupAndRestoreTest.php', 'tests/Standin/ReadErrorsTest.php'],
];
const OTHER = [
    BinaryOp\Smaller::class => '<=', BinaryOp\SmallerOrEqual::class => '<', BinaryOp\Greater::class => '>=', BinaryOp\GreaterOrEqual::class => '>',
    BinaryOp\Identical::class => '!==', BinaryOp\NotIdentical::class => '===', BinaryOp\BooleanAnd::class => '||', BinaryOp\BooleanOr::class => '&&',
    BinaryOp\Plus::class => '-', BinaryOp\Minus::class => '+', BinaryOp\Mul::class => '/',
];

/** @return list<array{line: int, from: int, length: int, text: string}> every change of a source, in bytes */
function changes(string $source): array
{
    $changes = [];
    $text = static fn (Node $n): string => substr($source, $n->getStartFilePos(), $n->getEndFilePos() - $n->getStartFilePos() + 1);
    $change = static function (Node $n, string $to) use (&$changes): void {
        $changes[] = ['line' => $n->getStartLine(), 'from' => $n->getStartFilePos(), 'length' => $n->getEndFilePos() - $n->getStartFilePos() + 1, 'text' => $to];
    };
    foreach ((new NodeFinder())->findInstanceOf((new ParserFactory())->createForHostVersion()->parse($source) ?? [], Node::class) as $node) {
        if ($node instanceof BinaryOp && isset(OTHER[$node::class])) {
            $change($node, '('.$text($node->left).' '.OTHER[$node::class].' '.$text($node->right).')');
        } elseif ($node instanceof BinaryOp\Coalesce) {
            $change($node, '('.$text($node->right).')');
        } elseif ($node instanceof Expr\BooleanNot) {
            $change($node, '(bool) ('.$text($node->expr).')');
        } elseif ($node instanceof Expr\Ternary && null !== $node->if) {
            $change($node, '('.$text($node->cond).' ? '.$text($node->else).' : '.$text($node->if).')');
        } elseif ($node instanceof Expr\ConstFetch && in_array($node->name->toLowerString(), ['true', 'false'], true)) {
            $change($node, 'true' === $node->name->toLowerString() ? 'false' : 'true');
        } elseif ($node instanceof Node\Scalar\Int_ && $node->value < 1_000) {
            $change($node, (string) ($node->value + 1));
        } elseif ($node instanceof Node\Stmt\Expression && ($node->expr instanceof Expr\MethodCall || $node->expr instanceof Expr\StaticCall || $node->expr instanceof Expr\FuncCall)) {
            $change($node, ';');
        } elseif ($node instanceof Node\Stmt\Continue_) {
            $change($node, 'break;');
        }
    }

    return $changes;
}

/** @return bool whether a test failed */
function isNoticed(string $class, string $mutant, string $room): bool
{
    foreach (TESTS[$room] as $test) {
        $command = ['timeout', '120', \PHP_BINARY, '-d', 'pcov.enabled=0', '-d', 'memory_limit=512M', '-d', 'auto_prepend_file='.__DIR__.'/mutant.php', 'vendor/bin/phpunit', '--colors=never', '--no-output', '--stop-on-defect', $test];
        $process = proc_open($command, [1 => ['file', '/dev/null', 'w'], 2 => ['file', '/dev/null', 'w']], $pipes, ROOT, ['GESCHENK_MUTANT' => $class.'='.$mutant, 'GESCHENK_SEEDS' => '20', 'APP_ENV' => 'test'] + getenv());
        if (false === $process) {
            throw new RuntimeException('PHPUnit can not be started.');
        }
        if (0 !== proc_close($process)) {
            return true;
        }
    }

    return false;
}

$options = getopt('', ['rooms:', 'sample:', 'seed:', 'least:']);
$option = static fn (string $name, string $else): string => is_array($options) && is_string($options[$name] ?? null) ? $options[$name] : $else;
$chance = new Random\Randomizer(new Random\Engine\Mt19937((int) $option('seed', '1')));
$mutant = ROOT.'/var/mutant.php';
$all = $noticed = 0;
foreach (explode(',', $option('rooms', implode(',', array_keys(TESTS)))) as $room) {
    if (!isset(TESTS[$room])) {
        fwrite(\STDERR, "There is no room $room.\n");
        exit(2);
    }
    // Tests that fail by themselves would notice everything.
    file_put_contents($mutant, "<?php\n");
    if (isNoticed('', $mutant, $room)) {
        fwrite(\STDERR, "The tests of $room fail without any change.\n");
        exit(2);
    }
    $found = [];
    foreach ([...(glob(ROOT."/core/$room/*.php") ?: []), ...(glob(ROOT."/core/$room/*/*.php") ?: [])] as $file) {
        foreach (changes((string) file_get_contents($file)) as $change) {
            $found[] = ['file' => $file] + $change;
        }
    }
    $sample = (int) $option('sample', (string) count($found));
    $kept = 0;
    $taken = array_slice($chance->shuffleArray($found), 0, max(1, $sample));
    foreach ($taken as $change) {
        $source = (string) file_get_contents($change['file']);
        file_put_contents($mutant, substr_replace($source, $change['text'], $change['from'], $change['length']));
        $name = substr($change['file'], strlen(ROOT.'/core/'), -4);
        if (isNoticed('Geschenk\Core\\'.strtr($name, '/', '\\'), $mutant, $room)) {
            ++$kept;
        } else {
            printf("not noticed: core/%s.php:%d  %s  ->  %s\n", $name, $change['line'], preg_replace('/\s+/', ' ', substr($source, $change['from'], min(100, $change['length']))), preg_replace('/\s+/', ' ', substr($change['text'], 0, 100)));
        }
    }
    printf("%s: %d of %d noticed (there are %d)\n", $room, $kept, count($taken), count($found));
    $all += count($taken);
    $noticed += $kept;
}
unlink($mutant);
printf("Together: %.0f %%\n", 100 * $noticed / max(1, $all));
exit(100 * $noticed >= (int) $option('least', '90') * $all ? 0 : 1);
