<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Console\Style\SymfonyStyle;

/** A secret is never an argument, which everybody on the computer can read: it is asked for, or the next line told. */
trait AsksPassphrase
{
    private static function asked(string $what, InputInterface $input, OutputInterface $output): string
    {
        if ($input->isInteractive() && stream_isatty(\STDIN)) {
            $asked = (new SymfonyStyle($input, $output))->askHidden($what);

            return is_string($asked) ? $asked : '';
        }

        return rtrim((string) fgets(\STDIN, 4_096), "\r\n");
    }
}
