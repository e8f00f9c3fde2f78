<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Exit codes of the chats: commands: 0 fine or all arrived, 1 differences, 2 with one line that says why when the input
 * is of no use or the output can't be written.
 */
trait ReportsUnusableInput
{
    /** @param callable(): int $work */
    private function answer(OutputInterface $output, callable $work): int
    {
        try {
            return $work();
        } catch (\Exception|\ValueError $error) {
            $errors = $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
            $errors->writeln((string) preg_replace('/\s+/', ' ', mb_scrub($error->getMessage())), OutputInterface::OUTPUT_RAW);

            return Command::INVALID;
        }
    }

    /** @param array<array-key, mixed> $value */
    private static function json(OutputInterface $output, array $value): void
    {
        $output->writeln(json_encode($value, \JSON_PRETTY_PRINT | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE), OutputInterface::OUTPUT_RAW);
    }
}
