<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What of a backup is taken home to read, and how. */
final readonly class CopyAsked
{
    /**
     * @param array<mixed>      $forms         names of Form
     * @param array<mixed>|null $conversations ids in the backup; null for all
     * @param array<mixed>|null $groups        names of FileGroup; null for all
     */
    public function __construct(
        #[Assert\Count(max: 20), Assert\All([new Assert\Type('string')])]
        public array $forms = [],
        #[Assert\Length(max: 20)]
        public string $packing = '',
        #[Assert\Length(max: 80)]
        public string $stick = '',
        #[Assert\Length(max: 10)]
        public string $language = '',
        #[Assert\Count(max: 100_000), Assert\All([new Assert\Type('integer')])]
        public ?array $conversations = null,
        #[Assert\Count(max: 20), Assert\All([new Assert\Type('string')])]
        public ?array $groups = null,
        /** whether messages without files are taken */
        public bool $text = true,
        /** first day that is taken, YYYY-MM-DD in the shop's zone */
        #[Assert\Length(max: 10)]
        public ?string $from = null,
        /** last day that is taken */
        #[Assert\Length(max: 10)]
        public ?string $to = null,
        #[Assert\Length(min: 8, max: 200)]
        #[\SensitiveParameter]
        public ?string $password = null,
        /** why: asked where the tray is closed */
        #[Assert\Length(max: 200)]
        public ?string $reason = null,
    ) {
    }
}
