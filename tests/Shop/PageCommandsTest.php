<?php

declare(strict_types=1);

namespace Geschenk\Tests\Shop;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** The examples of docs/cli.md are run as they are written, on the demonstration's phones; what they print is told. */
final class PageCommandsTest extends TestCase
{
    use Scratch;

    private const ROOT = __DIR__.'/../..';

    public function testWhatThePageShowsIsWhatComesOut(): void
    {
        DemoMaker::make(Folder::make($this->path('var/standin/phones')), static fn (string $line) => null);
        $page = (string) file_get_contents(self::ROOT.'/docs/cli.md');
        preg_match_all('/^```\n(\$ .*?)^```/ms', $page, $blocks);
        $commands = 0;
        foreach ($blocks[1] as $block) {
            foreach (array_slice(preg_split('/^\$ /m', $block) ?: [], 1) as $example) {
                [$command, $shown] = explode("\n", $example, 2);
                if (str_starts_with($command, 'cat ')) {
                    file_put_contents($this->path(substr($command, 4)), $shown);
                    continue;
                }
                $this->prints($command, $shown);
                ++$commands;
            }
        }
        self::assertGreaterThanOrEqual(7, $commands);
    }

    private function prints(string $command, string $shown): void
    {
        $script = escapeshellarg((string) realpath(self::ROOT.'/geschenk'));
        $here = strtr($command, ['./geschenk ' => $script.' ', '/tmp/' => $this->path('').'/']);
        exec(sprintf(
            'cd %s && GESCHENK_DATA=%s APP_ENV= %s 2>%s', escapeshellarg($this->path('')),
            escapeshellarg($this->path('var')), $here, escapeshellarg($this->path('errors')),
        ), $lines, $code);
        $said = str_replace($this->path('').'/', '/tmp/', implode("\n", $lines));
        $all = $said."\n".file_get_contents($this->path('errors'));
        self::assertLessThanOrEqual(3, $code, "$command: $all");
        foreach (explode("\n", trim($shown)) as $line) {
            // The moment is that of the example; what is left away is marked.
            $shape = preg_quote((string) preg_replace('/judged at \S+?Z/', 'judged at …', $line), '/');
            $shape = str_replace('…', '.*', $shape);
            self::assertMatchesRegularExpression("/^$shape\\s*$/mu", $said, "$command: $all");
        }
    }
}
