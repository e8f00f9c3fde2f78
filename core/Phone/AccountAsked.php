<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** The account that goes across, as it should be on a phone. */
final readonly class AccountAsked
{
    /**
     * @param string      $app          id of the app
     * @param string      $name         what people call it
     * @param string|null $number       E.164 number that the other phone has; null while nobody knows
     * @param bool        $isForRestore whether it is written to now; before that a number may still be registered
     * @param list<string> $told        names of steps that somebody has told to be done: no phone shows them
     */
    public function __construct(
        public string $app,
        public string $name,
        public ?string $number,
        public bool $isForRestore = false,
        public array $told = [],
    ) {
    }
}
