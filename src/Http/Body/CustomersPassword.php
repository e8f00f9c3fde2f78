<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** A password of a customer's, as they typed it at the counter. */
final readonly class CustomersPassword
{
    public function __construct(
        #[Assert\Length(min: 1, max: 200)]
        #[\SensitiveParameter]
        public string $password,
    ) {
    }
}
