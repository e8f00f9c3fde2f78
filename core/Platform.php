<?php

declare(strict_types=1);

namespace Geschenk\Core;

/** What a phone runs. Its values stand in records, in chat stores and in the API. */
enum Platform: string
{
    case Android = 'android';
    case Ios = 'ios';

    /** Its own name, which no language translates. */
    public function properName(): string
    {
        return match ($this) {
            self::Android => 'Android',
            self::Ios => 'iOS',
        };
    }
}
