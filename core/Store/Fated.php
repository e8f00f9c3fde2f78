<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

/** What is to become of a message, and why. */
final readonly class Fated
{
    /**
     * @param list<string> $rules  names of the loss rules that it meets
     * @param int|null     $origin id of the message of which this one is a copy
     */
    public function __construct(public Fate $fate = Fate::Whole, public array $rules = [], public ?int $origin = null)
    {
    }
}
