<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/** What one rule did to one set of chats. */
final readonly class Loss
{
    /**
     * @param int         $messages      messages changed or left out by the rule
     * @param int         $conversations conversations that have such messages, or are touched themselves
     * @param string|null $example       key of the first conversation touched
     */
    public function __construct(
        public string $rule,
        public string $sentence,
        public bool $leavesOut,
        public int $messages,
        public int $conversations,
        public ?string $example,
    ) {
    }

    /** @return array{rule: string, sentence: string, leaves_out: bool, messages: int, conversations: int, example: string|null} */
    public function toArray(): array
    {
        return ['rule' => $this->rule, 'sentence' => $this->sentence, 'leaves_out' => $this->leavesOut, 'messages' => $this->messages, 'conversations' => $this->conversations, 'example' => $this->example];
    }
}
