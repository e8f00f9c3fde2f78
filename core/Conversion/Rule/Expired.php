<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Route;

final class Expired extends Touching
{
    public function name(): string
    {
        return 'expired';
    }

    public function choices(): array
    {
        return [new Choice('left_out', Outcome::LeftOut)];
    }

    public function messages(Route $route): string
    {
        return sprintf("m.details IS NOT NULL AND json_extract(m.details, '$.expires_at') <= %d", $route->moment);
    }
}
