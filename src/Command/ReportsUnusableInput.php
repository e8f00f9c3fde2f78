<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Words\Language;
use Geschenk\Core\Failure;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\UnusableInput;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * Exit codes of the chats: commands: 0 fine or all arrived, 1 differences, 2 with one line that says why when the input
 * is of no use or the output can't be written, 3 (ExitCode)
 * when not all of what is there could be read.
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
            $said = $error instanceof Failure ? $this->words->of($error, Language::DEFAULT) : $error->getMessage();
            $errors->writeln((string) preg_replace('/\s+/', ' ', mb_scrub($said)), OutputInterface::OUTPUT_RAW);

            return Command::INVALID;
        }
    }

    private function addMomentOption(): void
    {
        $this->addOption(
            'moment', null, InputOption::VALUE_REQUIRED,
            'When lifetimes are judged, as chats:convert tells it (2026-11-26T10:00:00.000Z); now, if not told',
        );
    }

    /** @return int|null milliseconds since 1970 UTC */
    private static function moment(InputInterface $input): ?int
    {
        $told = $input->getOption('moment');
        if (!is_string($told)) {
            return null;
        }
        $time = \DateTimeImmutable::createFromFormat(
            'Y-m-d\TH:i:s.vp', $told, new \DateTimeZone('UTC'),
        ) ?: \DateTimeImmutable::createFromFormat('Y-m-d\TH:i:sp', $told, new \DateTimeZone('UTC'));

        return false === $time ? throw UnusableInput::notAMoment($told) : (int) $time->format('Uv');
    }

    private function addKeyOption(): void
    {
        $this->addOption(
            'key-file', null, InputOption::VALUE_REQUIRED,
            'A file whose first line is the key of a sealed backup: 64 digits, or a password',
        );
    }

    private static function key(InputInterface $input): ?BackupKey
    {
        $file = $input->getOption('key-file');

        return is_string($file) ? BackupKey::fromFile($file) : null;
    }

    private function addChoiceOption(): void
    {
        $this->addOption(
            'choose', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY,
            'What becomes of something that the receiving side can’t hold, as rule:choice, '
                .'for instance broadcast_list:as_conversations',
        );
    }

    /**
     * @return array<string, string> choices by rule
     *
     * @throws UnusableInput when one is not written as rule:choice
     */
    private static function choices(InputInterface $input): array
    {
        $choices = [];
        $told = $input->getOption('choose');
        foreach (is_array($told) ? $told : [] as $pair) {
            if (!is_string($pair) || 1 !== preg_match('/^([a-z_]+):([a-z_]+)$/D', $pair, $parts)) {
                throw UnusableInput::notAChoice();
            }
            $choices[$parts[1]] = $parts[2];
        }

        return $choices;
    }

    /** @param array<array-key, mixed> $value */
    private static function json(OutputInterface $output, array $value): void
    {
        $output->writeln(
            json_encode(
                $value,
                \JSON_PRETTY_PRINT | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_THROW_ON_ERROR
                    | \JSON_INVALID_UTF8_SUBSTITUTE,
            ),
            OutputInterface::OUTPUT_RAW,
        );
    }
}
