<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Words\Language;
use Symfony\Component\Validator\Constraints as Assert;

/** What opening a tray needs. */
final readonly class NewTray
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
        #[Assert\Length(max: 40)]
        public string $giving = '',
        #[Assert\Length(max: 40)]
        public string $receiving = '',
        #[Assert\Length(max: 20)]
        public ?string $errand = null,
        #[Assert\Choice(Language::ALL)]
        public ?string $language = null,
        /** @var list<string> ids */
        #[Assert\Count(max: 20), Assert\All([new Assert\Type('string'), new Assert\Length(max: 36)])]
        public array $backups = [],
    ) {
    }
}
