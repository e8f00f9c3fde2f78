<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Words\Language;
use Symfony\Component\Validator\Constraints as Assert;

/** What is imported, and whose it is. */
final readonly class NewImport
{
    public function __construct(
        #[Assert\IsTrue]
        public bool $consent = false,
        /** id of a customer who has been here before; what is told of them counts from now on */
        #[Assert\Positive]
        public ?int $known = null,
        #[Text(120)]
        public string $customer = '',
        #[Text(120)]
        public string $contact = '',
        #[Assert\Choice(Language::ALL)]
        public ?string $language = null,
        /** id of the stick that it lies on */
        #[Assert\Length(max: 80)]
        public ?string $stick = null,
        /** where on it; "" for all of it */
        #[Assert\Length(max: 1000)]
        public string $path = '',
        /** id of what was sent */
        #[Assert\Length(max: 36)]
        public ?string $upload = null,
        /** what opens it, where it is locked */
        #[\SensitiveParameter]
        #[Assert\Length(max: 200)]
        public ?string $key = null,
    ) {
    }
}
