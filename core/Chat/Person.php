<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** Somebody the account's owner exchanges messages with. */
final readonly class Person
{
    /**
     * @param string       $key          platform-neutral identity: the handle without the platform's suffix
     * @param string|null  $number       E.164 with leading plus, where the handle is a number
     * @param string|null  $bookName     the name in the phone's address book
     * @param string|null  $ownName      the name that the person gave themselves
     * @param list<string> $otherNumbers further numbers that the address book has for them, as written there
     * @param string|null  $formerKey    the identity that they had before they changed their number
     */
    public function __construct(
        public string $key,
        public ?string $number,
        public ?string $bookName,
        public ?string $ownName,
        public bool $barred = false,
        public array $otherNumbers = [],
        public ?string $formerKey = null,
    ) {
    }
}
