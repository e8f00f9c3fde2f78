<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

/** What a way in sees of its offers by a look at the sizes and times of a few files. */
final readonly class Glance
{
    /**
     * @param list<string> $marks     differ once its offers do; none where it has none
     * @param int          $changedAt s since 1970 UTC, by the phone's clock: when that was written to last which is
     *                                written to all the time; 0 for what stays as it was made
     * @param int|null     $chatBytes of the chats as the phone holds them; null while nobody knows
     */
    public function __construct(public array $marks = [], public int $changedAt = 0, public ?int $chatBytes = null)
    {
    }
}
