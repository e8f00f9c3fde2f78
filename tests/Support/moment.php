<?php

// What a phone has written just now is read twice, a moment apart. Tests of the whole application read it twice too,
// but do not wait in between: stand-in phones mark each change to the nanosecond. Tests of pulling itself wait.

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

function usleep(int $microseconds): void
{
    \usleep(min($microseconds, 1_000));
}
