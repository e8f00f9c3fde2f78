<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Symfony\Component\Process\Process;

/** Runs commands of the application as a shop would: in processes of their own, on a data folder of their own. */
final class Console
{
    /**
     * @param list<string> $words
     *
     * @return array{int, string} exit code, and what was said with single spaces
     */
    public static function run(string $data, array $words, string $typed = ''): array
    {
        return self::process($data, [\PHP_BINARY, dirname(__DIR__, 2).'/bin/console', ...$words], $typed);
    }

    /**
     * @param list<string>          $words of ./geschenk
     * @param array<string, string> $settings
     *
     * @return array{int, string}
     */
    public static function geschenk(string $data, array $words, array $settings = []): array
    {
        return self::process($data, [dirname(__DIR__, 2).'/geschenk', ...$words], '', $settings);
    }

    /**
     * @param list<string>          $command
     * @param array<string, string> $settings
     *
     * @return array{int, string}
     */
    private static function process(string $data, array $command, string $typed, array $settings = []): array
    {
        $process = new Process($command, dirname(__DIR__, 2), [
            'GESCHENK_DATA' => $data, 'APP_ENV' => 'test', 'APP_DEBUG' => '0', 'APP_SECRET' => 'only-for-the-tests',
        ] + $settings, $typed, 120);
        $code = $process->run();

        return [$code, (string) preg_replace('/\s+/', ' ', $process->getOutput().$process->getErrorOutput())];
    }
}
