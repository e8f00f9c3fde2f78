<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What people are looked for by who have been at the counter before. */
final readonly class CustomersToFind
{
    public function __construct(#[Assert\Length(max: 120)] public string $words = '')
    {
    }
}
