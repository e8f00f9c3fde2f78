<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Rule\AccountRule;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/**
 * A way by which the chats of an account come to this computer. Each is a folder of its own in core/WayIn, found by
 * being there; its words are in translations/ under "way" by its name.
 */
interface WayIn
{
    /** Names it in records: small letters and underscores, at most 20 of them. */
    public static function name(): string;

    /**
     * What it has of an account.
     *
     * @param string $app id of the app
     *
     * @return list<Offer> the newest first
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function offers(PhoneLink $link, string $app): array;

    /**
     * Whether that is still so: asked every second or two of each phone, so by a few files' sizes and times.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function glance(PhoneLink $link, string $app): Glance;

    /** Whether the messenger on a phone could make one more now, at its owner's hand; how is said beside the offers. */
    public function canBeMade(PhoneState $phone, string $app): bool;

    /**
     * What it needs on the phone beyond what every way needs, each seen by itself.
     *
     * @return list<AccountRule>
     */
    public function steps(): array;

    /**
     * What its steps switch on a phone: the watch sees it before and after, and the hand-over asks for it back.
     *
     * @return array<string, int> by a code that has its words in translations/ under "switched"; 0 and 1 for off and on
     */
    public function switches(PhoneState $phone, string $app): array;

    /**
     * Reads an offer that nobody locked into a chat store, without a look at its attachments.
     *
     * @param string $path where the chat store goes
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     */
    public function lookInto(Taking $taking, string $path, Progress $progress): void;

    /**
     * Bytes that fetching an offer brings.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function bytes(Taking $taking): int;

    /**
     * Fetches an offer, or goes on with it: what the journal has noted lies there whole. Calls nothing fetched before
     * it is on the disk.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput  when it is gone, the key does not open it, or it is damaged
     * @throws RestoreRefused where all was wanted, and the phone can't read a file to its end
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function fetch(Fetching $fetching): Fetched;
}
