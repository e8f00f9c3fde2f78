<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

/**
 * What one rule did to one set of chats.
 *
 * @phpstan-type LossArray array{
 *     rule: string, outcome: string, choice: string, choices: list<string>, messages: int, conversations: int,
 *     example: array{conversation: string, kind: string|null, sent_at: int|null}|null,
 * }
 */
final readonly class Loss
{
    /**
     * @param list<Choice> $choices       what there was to choose from
     * @param int          $messages      messages changed or left out by the rule
     * @param int          $conversations conversations that have such messages, or are touched themselves
     * @param string|null  $example       key of the first conversation touched
     * @param string|null  $exampleKind   kind of the first message touched, and
     * @param int|null     $exampleSentAt when it was sent, milliseconds since 1970 UTC
     */
    public function __construct(
        public string $rule,
        public Choice $choice,
        public array $choices,
        public int $messages,
        public int $conversations,
        public ?string $example,
        public ?string $exampleKind,
        public ?int $exampleSentAt,
    ) {
    }

    /** @return LossArray */
    public function toArray(): array
    {
        return [
            'rule' => $this->rule, 'outcome' => $this->choice->outcome->value, 'choice' => $this->choice->key,
            'choices' => array_map(static fn (Choice $c): string => $c->key, $this->choices),
            'messages' => $this->messages, 'conversations' => $this->conversations,
            'example' => null === $this->example ? null : [
                'conversation' => $this->example, 'kind' => $this->exampleKind, 'sent_at' => $this->exampleSentAt,
            ],
        ];
    }
}
