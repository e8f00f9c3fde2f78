<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Rule;

use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Move;
use Geschenk\Core\Conversion\Outcome;

final class Expired extends Touching
{
    public function name(): string
    {
        return 'expired';
    }

    public function sentence(): string
    {
        return 'The message had a lifetime and it has run out. It is not brought back to life: it stays in the backup.';
    }

    public function choices(): array
    {
        return [new Choice('left_out', 'Stays in the backup', Outcome::LeftOut)];
    }

    public function messages(Move $move): string
    {
        return sprintf("m.details IS NOT NULL AND json_extract(m.details, '$.expires_at') <= %d", $move->moment);
    }
}
