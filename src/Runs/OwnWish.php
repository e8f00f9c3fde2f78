<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

/** What is told of a kind of run that no other kind is asked; the kind knows its class. */
interface OwnWish
{
}
