<?php

declare(strict_types=1);

namespace Geschenk\Core\WayIn;

use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Transfer\Glance;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\WayIn;
use Geschenk\Core\UnusableInput;

/** The ways in that there are. */
final readonly class Ways
{
    /** @var array<string, WayIn> by name */
    private array $ways;

    /** @param iterable<WayIn> $ways */
    public function __construct(iterable $ways)
    {
        $named = [];
        foreach ($ways as $way) {
            $named[$way::name()] = $way;
        }
        ksort($named);
        $this->ways = $named;
    }

    /** @return WayIn|null null where there is none of that name any more */
    public function named(string $name): ?WayIn
    {
        return $this->ways[$name] ?? null;
    }

    /** @throws UnusableInput when its way is there no more */
    public function of(Offer $offer): WayIn
    {
        return $this->named($offer->way) ?? throw UnusableInput::noSuchWayIn($offer->way);
    }

    /**
     * What all of them have of an account: what is of now first, which lacks nothing, and then the newest.
     *
     * @param string $app id of the app
     *
     * @return list<Offer>
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function offers(PhoneLink $link, string $app): array
    {
        $offers = [];
        foreach ($this->ways as $way) {
            array_push($offers, ...$way->offers($link, $app));
        }
        $order = static fn (Offer $offer): array => [$offer->isOfNow(), $offer->madeAt];
        usort($offers, static fn (Offer $a, Offer $b): int => $order($b) <=> $order($a));

        return $offers;
    }

    /**
     * Whether that is still so. What the chats take is told by what is of now, else by the first that knows.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     */
    public function glance(PhoneLink $link, string $app): Glance
    {
        $marks = [];
        $changedAt = 0;
        $bytesNow = $bytes = null;
        foreach ($this->ways as $way) {
            $seen = $way->glance($link, $app);
            array_push($marks, ...$seen->marks);
            $changedAt = max($changedAt, $seen->changedAt);
            $bytesNow ??= $seen->changedAt > 0 ? $seen->chatBytes : null;
            $bytes ??= $seen->chatBytes;
        }

        return new Glance($marks, $changedAt, $bytesNow ?? $bytes);
    }

    /** @return list<string> names of those that the messenger could make one more for now */
    public function thatCanBeMade(PhoneState $phone, string $app): array
    {
        return array_keys(array_filter(
            $this->ways, static fn (WayIn $way): bool => $way->canBeMade($phone, $app),
        ));
    }

    /** @return array<string, int> what their steps switch on a phone, by its code */
    public function switches(PhoneState $phone, string $app): array
    {
        $switches = [];
        foreach ($this->ways as $way) {
            $switches += $way->switches($phone, $app);
        }

        return $switches;
    }
}
