<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Choosing;

/** What somebody wants to go across of an account, in the words of the page. */
final readonly class ScopeAsked
{
    /**
     * @param list<string> $groups        names of FileGroup
     * @param list<int>    $conversations ids in the backup's chats
     * @param int|null     $since         milliseconds since 1970 UTC, as in Scope
     * @param int|null     $before        the same
     * @param int|null     $trialOf       id of the only conversation that a trial brings first
     * @param int|null     $trialNewest   messages of each that it brings
     */
    public function __construct(
        public array $groups = [],
        public array $conversations = [],
        public ?int $since = null,
        public ?int $before = null,
        public ?int $trialOf = null,
        public ?int $trialNewest = null,
    ) {
    }
}
