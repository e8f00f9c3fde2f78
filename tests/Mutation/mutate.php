<?php

/*
 * Changes one thing at a time in the rooms of core, and asks the tests whether they notice.
 *
 *     composer mutate -- [--rooms=Arrival,Transfer] [--only=FILE] [--sample=N] [--seed=S]
 *         [--jobs=2] [--least=90]
 *
 * Every change takes a run of tests, so all of them take an hour or more; --sample takes N of each room by seed, --only
 * those of the files whose path holds the word. Ends with 1 when fewer than --least per cent are noticed. A change that
 * makes a test run for more than two minutes counts as noticed.
 */

declare(strict_types=1);

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Tests\Mutation\Rooms;
use PhpParser\Node;
use PhpParser\Node\Expr;
use PhpParser\Node\Expr\BinaryOp;
use PhpParser\NodeFinder;
use PhpParser\ParserFactory;

require dirname(__DIR__, 2).'/vendor/autoload.php';

define('ROOT', dirname(__DIR__, 2));
/** Of this search alone: others may run beside it. */
define('HERE', ROOT.'/var/mutation-'.getmypid());
const OTHER = [
    BinaryOp\Smaller::class => '<=', BinaryOp\SmallerOrEqual::class => '<', BinaryOp\Greater::class => '>=',
    BinaryOp\GreaterOrEqual::class => '>',
    BinaryOp\Identical::class => '!==', BinaryOp\NotIdentical::class => '===', BinaryOp\BooleanAnd::class => '||',
    BinaryOp\BooleanOr::class => '&&',
    BinaryOp\Plus::class => '-', BinaryOp\Minus::class => '+', BinaryOp\Mul::class => '/',
];

/** @return list<array{line: int, from: int, length: int, text: string}> every change of a source, in bytes */
function changes(string $source): array
{
    $changes = [];
    $text = static fn (Node $n): string => substr(
        $source, $n->getStartFilePos(), $n->getEndFilePos() - $n->getStartFilePos() + 1,
    );
    $change = static function (Node $n, string $to) use (&$changes): void {
        $changes[] = [
            'line' => $n->getStartLine(), 'from' => $n->getStartFilePos(),
            'length' => $n->getEndFilePos() - $n->getStartFilePos() + 1, 'text' => $to,
        ];
    };
    foreach ((new NodeFinder())->findInstanceOf(
        (new ParserFactory())->createForHostVersion()->parse($source) ?? [], Node::class,
    ) as $node) {
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
        } elseif ($node instanceof Node\Stmt\Expression
            && ($node->expr instanceof Expr\MethodCall || $node->expr instanceof Expr\StaticCall
                || $node->expr instanceof Expr\FuncCall)) {
            $change($node, ';');
        } elseif ($node instanceof Node\Stmt\Continue_) {
            $change($node, 'break;');
        }
    }

    return $changes;
}

/**
 * Starts one run of a test file or folder with a changed class.
 *
 * @return resource
 */
function start(string $test, string $class, string $mutant, int $job): mixed
{
    $command = [
        'timeout', '120', \PHP_BINARY, '-d', 'pcov.enabled=0', '-d', 'memory_limit=512M',
        '-d', 'auto_prepend_file='.__DIR__.'/mutant.php', 'vendor/bin/phpunit', '--colors=never', '--no-output',
        '--do-not-cache-result', '--stop-on-defect', $test,
    ];
    $environment = [
        'GESCHENK_MUTANT' => "$class=$mutant", 'GESCHENK_SEEDS' => '20', 'GESCHENK_GROUNDS' => '1',
        'GESCHENK_POWER_CUTS' => '45',
        'GESCHENK_TEST_DATA' => HERE."/data-$job", 'APP_ENV' => 'test',
    ];
    $null = ['file', '/dev/null', 'w'];
    $process = proc_open($command, [1 => $null, 2 => $null], $pipes, ROOT, $environment + getenv());

    return false === $process ? throw new RuntimeException('PHPUnit can not be started.') : $process;
}

/**
 * Asks a room's tests about changes, some at a time, and tells each answer as it comes.
 *
 * @param list<array{class: string, source: string}>                     $changes
 * @param callable(int, string|null): void $told which change it was, and the test that noticed it
 */
function ask(array $changes, string $room, int $jobs, callable $told): void
{
    /** @var array<int, array{process: resource, change: int, test: int, mutant: string}> $running */
    $running = [];
    $next = 0;
    while ([] !== $running || $next < count($changes)) {
        for ($job = 0; $job < $jobs && $next < count($changes); ++$job) {
            if (!isset($running[$job])) {
                $mutant = HERE."/mutant-$job.php";
                file_put_contents($mutant, $changes[$next]['source']);
                $process = start(Rooms::TESTS[$room][0], $changes[$next]['class'], $mutant, $job);
                $running[$job] = ['process' => $process, 'change' => $next++, 'test' => 0, 'mutant' => $mutant];
            }
        }
        usleep(20_000);
        foreach ($running as $job => $run) {
            $status = proc_get_status($run['process']);
            if ($status['running']) {
                continue;
            }
            proc_close($run['process']);
            if (0 === $status['exitcode'] && isset(Rooms::TESTS[$room][$run['test'] + 1])) {
                $running[$job]['test'] = ++$run['test'];
                $class = $changes[$run['change']]['class'];
                $running[$job]['process'] = start(Rooms::TESTS[$room][$run['test']], $class, $run['mutant'], $job);
                continue;
            }
            $told($run['change'], 0 === $status['exitcode'] ? null : Rooms::TESTS[$room][$run['test']]);
            unset($running[$job]);
        }
    }
}

$options = getopt('', ['rooms:', 'sample:', 'seed:', 'least:', 'jobs:', 'only:']);
$option = static fn (string $name, string $else): string => is_array($options) && is_string($options[$name] ?? null)
    ? $options[$name] : $else;
$chance = new Random\Randomizer(new Random\Engine\Mt19937((int) $option('seed', '1')));
mkdir(HERE, 0o700, true);
register_shutdown_function(static fn () => Folder::remove(HERE));
$jobs = max(1, (int) $option('jobs', '2'));
$all = $noticed = 0;
foreach (explode(',', $option('rooms', implode(',', array_keys(Rooms::TESTS)))) as $room) {
    if (!isset(Rooms::TESTS[$room])) {
        fwrite(\STDERR, "There is no room $room.\n");
        exit(2);
    }
    // Tests that fail by themselves would notice everything.
    ask([['class' => '', 'source' => "<?php\n"]], $room, 1, static function (int $change, ?string $test): void {
        if (null !== $test) {
            fwrite(\STDERR, "$test fails without any change.\n");
            exit(2);
        }
    });
    $found = [];
    foreach (Folder::files(ROOT."/core/$room") as $path) {
        $file = ROOT."/core/$room/$path";
        if (!str_contains($file, $option('only', '/'))) {
            continue;
        }
        $source = (string) file_get_contents($file);
        $name = substr($file, strlen(ROOT.'/core/'), -4);
        foreach (changes($source) as $change) {
            $before = (string) preg_replace(
                '/\s+/', ' ', substr($source, $change['from'], min(100, $change['length'])),
            );
            $after = (string) preg_replace('/\s+/', ' ', substr($change['text'], 0, 100));
            $found[] = [
                'class' => 'Geschenk\Core\\'.strtr($name, '/', '\\'),
                'source' => substr_replace($source, $change['text'], $change['from'], $change['length']),
                'words' => "core/$name.php:{$change['line']}  $before  ->  $after",
            ];
        }
    }
    $sample = (int) $option('sample', (string) count($found));
    $taken = array_slice($chance->shuffleArray($found), 0, max(1, $sample));
    $kept = 0;
    ask($taken, $room, $jobs, static function (int $change, ?string $test) use ($taken, &$kept): void {
        $kept += null === $test ? 0 : 1;
        echo null === $test ? "not noticed: {$taken[$change]['words']}\n" : '';
    });
    printf("%s: %d of %d noticed (there are %d)\n", $room, $kept, count($taken), count($found));
    $all += count($taken);
    $noticed += $kept;
}
printf("Together: %.0f %%\n", 100 * $noticed / max(1, $all));
exit(100 * $noticed >= (int) $option('least', '90') * $all ? 0 : 1);
