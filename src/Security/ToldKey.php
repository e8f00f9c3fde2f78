<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\Core\Seal\KeySource;

/** What somebody tells at this moment, and no longer. */
final readonly class ToldKey implements KeySource
{
    public function __construct(#[\SensitiveParameter] private string $told)
    {
    }

    public function told(): string
    {
        return $this->told;
    }
}
