<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraints as Assert;

/** What is left out of a move. */
final readonly class NewScope
{
    /**
     * @param array<mixed> $groups        names of FileGroup
     * @param array<mixed> $conversations ids in the backup
     */
    public function __construct(
        #[Assert\Count(max: 20), Assert\All([new Assert\Type('string')])]
        public array $groups = [],
        #[Assert\Count(max: 100_000), Assert\All([new Assert\Type('integer')])]
        public array $conversations = [],
        /** first day that is brought, YYYY-MM-DD in the shop's zone */
        #[Assert\Length(max: 10)]
        public ?string $from = null,
        /** last day that is brought */
        #[Assert\Length(max: 10)]
        public ?string $to = null,
        /** the only conversation that a trial brings first */
        #[Assert\Positive]
        public ?int $trialConversation = null,
        /** the messages of each that a trial brings first */
        #[Assert\Range(min: 1, max: 1000)]
        public ?int $trialNewest = null,
        /** whether people's names go into the receiving phone's address book; null leaves it as it is */
        public ?bool $names = null,
        public bool $merges = false,
        /** whether it is converted with that at once: one request, so that nobody is left between the two */
        public bool $convert = false,
    ) {
    }
}
