<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Words\Language;
use Symfony\Component\Validator\Constraints as Assert;

/** Who a customer is and how to reach them. */
final readonly class Customer
{
    public function __construct(
        #[Text(120)]
        public string $customer = '',
        #[Text(120)]
        public string $contact = '',
        #[Assert\Choice(Language::ALL)]
        public string $language = Language::DEFAULT,
    ) {
    }
}
