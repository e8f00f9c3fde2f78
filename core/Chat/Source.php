<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

use Geschenk\Core\Platform;

/** Where a set of chats comes from: which messenger, which edition, which storage format, whose account. */
final readonly class Source
{
    /**
     * @param string      $messenger   for instance "Otterpost"
     * @param string      $edition     for instance "Otterpost" or the name of the business edition
     * @param int         $generation  generation of the storage format
     * @param string      $account     E.164 number of the account's owner
     * @param string|null $accountName the name that the owner gave themselves
     */
    public function __construct(
        public string $messenger,
        public string $edition,
        public Platform $platform,
        public int $generation,
        public string $account,
        public ?string $accountName,
    ) {
    }

    /** The same account, whose owner goes by a name. */
    public function named(?string $accountName): self
    {
        return new self(
            $this->messenger, $this->edition, $this->platform, $this->generation, $this->account, $accountName,
        );
    }
}
