<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** A poll; the question is the message's text. */
final readonly class Poll implements Content
{
    /**
     * @param bool                                                                          $several  whether one person
     * may choose more than one answer
     * @param int|null                                                                      $closedAt milliseconds since
     * 1970 UTC
     * @param list<array{
     *     text: string, votes: list<array{who: string|null, at: int|null}>,
     * }> $answers  `who` is a person's key, null for the account's owner; `at` as `closedAt`
     */
    public function __construct(public bool $several, public ?int $closedAt, public array $answers)
    {
    }

    public function sort(): string
    {
        return 'poll';
    }

    public function toArray(): array
    {
        return ['several' => $this->several, 'closed_at' => $this->closedAt, 'answers' => $this->answers];
    }
}
