<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\OfferSeen;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\Core\Failure;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreSchema;
use Geschenk\Core\Transfer\Glance;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\UnusableInput;
use Geschenk\Core\WayIn\Ways;
use Psr\Log\LoggerInterface;

/**
 * Looks at what an app on a phone holds, for workers alone: so swapped roles are seen before anything is written, and
 * no page reads what somebody else wrote.
 *
 * @phpstan-import-type Counts from Holding
 * @phpstan-import-type Held from OfferSeen
 */
final readonly class Looks
{
    /** Looks that end in something unexpected are not begun for ever. */
    public const TRIES = 3;
    /** Who looks, in the log. */
    private const BY = 'bench';
    /** Seconds: a change mark of this very moment is not to be relied on. */
    private const YOUNG = 2;
    /** Offers that one look goes into. */
    private const LOOKED_INTO = 5;
    /** Bytes: what is larger is taken over the cable only when it is asked for. */
    private const LOOKED_INTO_BYTES = 200_000_000;

    public function __construct(
        private PhoneChats $reader,
        private Ways $ways,
        private Formats $formats,
        private Phones $phones,
        private EntityManagerInterface $entities,
        private Records $records,
        private ShopLog $log,
        private LoggerInterface $logger,
    ) {
    }

    /**
     * Looks and keeps what was seen, of a phone in an open tray.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function look(PhoneLink $link, string $app): void
    {
        if (null === $this->begin($link->serial(), $app)) {
            return;
        }
        // Marked before it is read: what comes in while we read has changed it.
        $glance = $this->glance($link, $app);
        $mark = self::mark($glance);
        $isYoung = time() - $glance->changedAt <= self::YOUNG;
        $counts = $trouble = null;
        $offers = $this->offers($link, $app);
        try {
            $counts = $this->count($link, $app);
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            throw $hindrance;
        } catch (\RuntimeException $error) {
            $trouble = $this->told($error, $link);
        }
        $this->records->change(function () use ($link, $app, $mark, $isYoung, $counts, $trouble, $offers): void {
            // The tray may have been closed meanwhile.
            $holding = $this->phones->holding($link->serial(), $app);
            if (null === $holding) {
                return;
            }
            $holding->hasOffers($offers);
            if (null !== $counts) {
                // Written to just now: the next write could leave the same mark, so that it counts as an old one soon.
                $holding->looked($isYoung ? $mark.'~' : $mark, $counts);
            } elseif (null !== $trouble) {
                $isWorthAnother = 'look_failed' === $trouble[0] && $holding->tries() < self::TRIES;
                $holding->lookFailed($isWorthAnother ? null : $mark, ...$trouble);
            }
        });
    }

    /** @return array{string, array<string, string|int>} a code under "failure" in translations/, with its parameters */
    private function told(\RuntimeException $error, PhoneLink $link): array
    {
        if (!$error instanceof UnusableInput) {
            $this->logger->error('A look at a phone failed.', ['serial' => $link->serial(), 'exception' => $error]);
        }

        return $error instanceof Failure ? [$error->reason, $error->fields] : ['look_failed', []];
    }

    /**
     * Read from the phone at this moment.
     *
     * @return Counts
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     * @throws \RuntimeException when the reading ends in something unexpected
     */
    public function count(PhoneLink $link, string $app): array
    {
        $scratch = ScratchFolder::make();
        $path = $scratch->path.'/'.StoreSchema::FILE_NAME;
        $this->reader->read($link, $app, $path, false, new NoProgress());
        $chats = new ChatStore($path);
        $summary = $chats->summary();
        $account = $chats->source()->account;
        $newest = $chats->newestUpTo(self::soon());
        $isUncounted = $chats->isLossUncounted();
        $chats->close();
        $scratch->remove();

        return [
            'number' => mb_substr(mb_scrub($account), 0, 40), 'conversations' => $summary['conversations'],
            'messages' => $summary['messages'], 'attachments' => $summary['attachments'],
            'attachment_bytes' => $summary['attachment_bytes'], 'newest_at' => $newest, 'lost' => $summary['lost'],
            'loss_uncounted' => $isUncounted,
        ];
    }

    /**
     * A look at a few files' sizes and times.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function glance(PhoneLink $link, string $app): Glance
    {
        return $this->ways->glance($link, $app);
    }

    /** Differs once the files do that hold the app's chats, as they are and as the ways in have them. */
    public static function mark(Glance $glance): string
    {
        return hash('xxh128', implode("\0", $glance->marks));
    }

    /**
     * What the ways in have. What nobody locked is looked into, each once, the newest of them; what is of now is
     * counted by itself.
     *
     * @return list<OfferSeen>
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function offers(PhoneLink $link, string $app): array
    {
        $known = [];
        foreach ($this->phones->holding($link->serial(), $app)?->offers() ?? [] as $seen) {
            $known[$seen->offer->id()."\0".$seen->offer->changed] = $seen;
        }
        $found = [];
        $looks = 0;
        foreach ($this->ways->offers($link, $app) as $offer) {
            $before = $known[$offer->id()."\0".$offer->changed] ?? new OfferSeen($offer);
            $isWorthIt = !$offer->isOfNow() && !$offer->isLocked() && !$before->isLookedInto()
                && $offer->bytes <= self::LOOKED_INTO_BYTES;
            $found[] = $isWorthIt && ++$looks <= self::LOOKED_INTO
                ? $this->lookInto(new Taking($link, $app, $offer))
                : new OfferSeen($offer, $before->counts, $before->trouble, $before->params);
        }

        return $found;
    }

    /**
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    private function lookInto(Taking $taking): OfferSeen
    {
        try {
            return new OfferSeen($taking->offer, $this->countOffer($taking));
        } catch (PhoneUnplugged|PhoneRefuses $hindrance) {
            throw $hindrance;
        } catch (\RuntimeException $error) {
            return new OfferSeen($taking->offer, null, ...$this->told($error, $taking->link));
        }
    }

    /**
     * @return Held
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput
     */
    private function countOffer(Taking $taking): array
    {
        $scratch = ScratchFolder::make();
        $path = $scratch->path.'/'.StoreSchema::FILE_NAME;
        $this->ways->of($taking->offer)->lookInto($taking, $path, new NoProgress());
        $chats = new ChatStore($path);
        $summary = $chats->summary();
        $newest = $chats->newestUpTo(self::soon());
        $chats->close();

        return [
            'conversations' => $summary['conversations'], 'messages' => $summary['messages'], 'newest_at' => $newest,
        ];
    }

    /** @return int milliseconds since 1970 UTC: a message from the future would hide how old the rest is */
    public static function soon(): int
    {
        return (time() + 86_400) * 1000;
    }

    /**
     * What a phone in an open tray holds: that its owner consents is a condition of opening one. That it is looked into
     * is in the log before anything is read.
     *
     * @return Holding|null null of a phone in no open tray: it is not looked into
     */
    public function begin(string $serial, string $app): ?Holding
    {
        return $this->records->change(function () use ($serial, $app): ?Holding {
            $tray = $this->phones->traysOf([$serial])[$serial] ?? null;
            if (null === $tray) {
                return null;
            }
            $holding = $this->phones->holding($serial, $app);
            if (null === $holding) {
                $holding = new Holding($serial, $app);
                $this->entities->persist($holding);
                $edition = $this->formats->apps()[$app]->edition ?? $app;
                $this->log->noteWithFlush(self::BY, 'looked_into', $tray, ['serial' => $serial, 'edition' => $edition]);
            }

            return $holding;
        });
    }
}
