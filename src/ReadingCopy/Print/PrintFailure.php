<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Print;

use Geschenk\Core\Failure;

/** A page could not be laid out for paper. */
final class PrintFailure extends Failure
{
    /** The program that does it is not on this computer. */
    public static function noProgram(): self
    {
        return new self('no_print_program');
    }

    /** @param string $why what the program said last */
    public static function because(string $why): self
    {
        return new self('print_failed', ['why' => $why]);
    }
}
