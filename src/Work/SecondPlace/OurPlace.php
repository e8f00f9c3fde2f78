<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\SecondPlace;
use Geschenk\App\Records;
use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\Core\Seal\DataKey;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\SecondPlace\Place;
use Geschenk\Core\SecondPlace\PlaceFailure;
use Geschenk\Core\SecondPlace\PlaceMark;
use Psr\Clock\ClockInterface;
use Symfony\Component\Uid\Uuid;

/** The second place, known by its mark: what is put to another one, or read from it, is not ours. */
final readonly class OurPlace
{
    /** What the records have there, and the key of all copies but those of trays is called. */
    public const RECORDS = 'records';
    public const KEY = 'second place';

    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private PlaceInUse $inUse,
        private Keyring $keys,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @return Place that was begun, and is the same still
     *
     * @throws PlaceFailure
     */
    public function place(): Place
    {
        $place = $this->inUse->place();
        $known = $this->record();
        if (null === $known?->since() || (new PlaceMark($place))->read() !== $known->mark) {
            throw PlaceFailure::other($place->label());
        }

        return $place;
    }

    /**
     * The same, which is begun where none was so far.
     *
     * @throws PlaceFailure
     */
    public function begun(): Place
    {
        $place = $this->inUse->place();
        $known = $this->records->change(function (): SecondPlace {
            $known = $this->record() ?? new SecondPlace(Uuid::v4()->toRfc4122());
            $this->entities->persist($known);

            return $known;
        });
        $mark = new PlaceMark($place);
        $there = $mark->read();
        if (null !== $known->since()) {
            $there === $known->mark ?: throw PlaceFailure::other($place->label());

            return $place;
        }
        null === $there || $there === $known->mark ?: throw PlaceFailure::taken($place->label());
        // Its name is in the records before it is there: whoever is killed in between finds it to be ours.
        null !== $there ?: $mark->make($known->mark);
        $this->records->change(fn () => $this->record()?->begun($this->clock->now()));

        return $place;
    }

    /** Forgets it and all that lies there: the next one is begun anew. */
    public function leave(): void
    {
        $known = $this->record();
        null === $known ?: $this->entities->remove($known);
        foreach ($this->entities->getRepository(PlacedCopy::class)->findAll() as $copy) {
            $this->entities->remove($copy);
        }
        $this->entities->flush();
    }

    public function record(): ?SecondPlace
    {
        return $this->entities->find(SecondPlace::class, SecondPlace::ID);
    }

    /**
     * @param string $name of a copy
     *
     * @throws KeyFailure
     */
    public function key(string $name): DataKey
    {
        return $this->keys->keyFor(self::keyOf($name));
    }

    /** That of a tray goes with it; what lies of a backup is sealed under its own key besides. */
    public static function keyOf(string $name): string
    {
        return null === self::trayOf($name) ? self::KEY : self::KEY.' '.$name;
    }

    public static function ofTray(int $number): string
    {
        return 'tray-'.$number;
    }

    /** @return int|null number of the tray that a copy is of; null where it is of something else */
    public static function trayOf(string $name): ?int
    {
        return 1 === preg_match('/^tray-(\d+)$/D', $name, $found) ? (int) $found[1] : null;
    }
}
