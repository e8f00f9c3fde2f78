<?php

declare(strict_types=1);

namespace Geschenk\App\Bench;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Holding;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Runs\Kinds;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\Switchable;
use Geschenk\Core\WayIn\Ways;
use Psr\Clock\ClockInterface;

/** The phones as last seen, and what they hold: records that pages read. No phone is looked at here. */
final readonly class Phones
{
    /** Seconds: what was seen longer ago is said to be old. */
    private const FRESH = 20;

    public function __construct(
        private EntityManagerInterface $entities,
        private ClockInterface $clock,
        private Kinds $kinds,
        private Ways $ways,
    ) {
    }

    /**
     * What is switched for a job and has to be switched back after it: for every job, and for a way in.
     *
     * @return list<array{code: string, app: string, value: int}> those that the phone shows now; 0 and 1 for off and
     *                                                            on, s for the lock timer
     */
    public function settings(PhoneState $state): array
    {
        $settings = Switchable::of($state);
        foreach ($state->apps ?? [] as $app) {
            foreach ($this->ways->switches($state, $app->id) as $code => $value) {
                $settings[] = ['code' => $code, 'app' => $app->id, 'value' => $value];
            }
        }

        return $settings;
    }

    /** @return list<Phone> on the bench, by serial */
    public function onBench(): array
    {
        return $this->entities->getRepository(Phone::class)->findBy(['onBench' => true], ['serial' => 'ASC']);
    }

    /**
     * Another phone of the same make that lies on the bench and in no tray: easily taken for one that is away.
     *
     * @return string|null its serial
     */
    public function lookAlike(string $serial): ?string
    {
        return $this->lookAlikes([$serial])[$serial] ?? null;
    }

    /**
     * All of them at once: what lies on the bench is looked through once.
     *
     * @param list<string> $serials
     *
     * @return array<string, string> serial of the look-alike by that of the phone that is away
     */
    public function lookAlikes(array $serials): array
    {
        $away = array_filter(
            array_map($this->find(...), $serials), static fn (?Phone $phone): bool => false === $phone?->isOnBench(),
        );
        if ([] === $away) {
            return [];
        }
        $here = [];
        foreach ($this->onBench() as $phone) {
            $here[$phone->serial] = self::make($phone);
        }
        // The first of each make, by serial.
        $free = array_flip(array_reverse(array_diff_key($here, $this->inUse(array_keys($here))), true));
        $alike = [];
        foreach ($away as $phone) {
            $alike[$phone->serial] = $free[self::make($phone)] ?? null;
        }

        return array_filter($alike, static fn (?string $serial): bool => null !== $serial);
    }

    private static function make(Phone $phone): string
    {
        return $phone->state()->maker."\0".$phone->state()->model;
    }

    public function find(string $serial): ?Phone
    {
        return $this->entities->find(Phone::class, $serial);
    }

    /** What was seen last of a phone that is on the bench; null of one that is not. */
    public function state(string $serial): ?PhoneState
    {
        $phone = $this->find($serial);

        return true === $phone?->isOnBench() ? $phone->state() : null;
    }

    public function isFresh(Phone $phone): bool
    {
        return $this->clock->now()->getTimestamp() - $phone->seenAt()->getTimestamp() <= self::FRESH;
    }

    /**
     * A phone is free when no open tray holds it and no run is under way at it: also none of a tray that was handed
     * over, from which it is put back, be it that this rests.
     *
     * @param list<string> $serials
     *
     * @return array<string, int> numbers of the trays that phones are in use for, by serial; others are free
     */
    public function inUse(array $serials): array
    {
        $dql = 'SELECT r.serial, t.number FROM '.Run::class.' r JOIN r.move m JOIN m.tray t '
            .'WHERE r.serial IN (:serials) '
            .'AND (r.state IN (:underWay) OR r.kind IN (:waysBack) AND r.state IN (:standing))';
        /** @var list<array{serial: string, number: int}> $rows */
        $rows = $this->entities->createQuery($dql)
            ->setParameter('serials', $serials)->setParameter('underWay', RunState::UNDER_WAY)
            ->setParameter('waysBack', $this->kinds->waysBack())->setParameter('standing', RunState::STANDING)
            ->getArrayResult();

        return $this->traysOf($serials) + array_column($rows, 'number', 'serial');
    }

    /**
     * @param list<string> $serials
     *
     * @return array<string, int> numbers of the open trays that phones are in, by serial; others are in none
     */
    public function traysOf(array $serials): array
    {
        $dql = 'SELECT p.serial, t.number FROM '.TrayPhone::class.' p JOIN p.tray t '
            .'WHERE p.serial IN (:serials) AND p.held = true';
        /** @var list<array{serial: string, number: int}> $rows */
        $rows = $this->entities->createQuery($dql)->setParameter('serials', $serials)->getArrayResult();

        return array_column($rows, 'number', 'serial');
    }

    public function holding(string $serial, string $app): ?Holding
    {
        return $this->entities->find(Holding::class, ['serial' => $serial, 'app' => $app]);
    }

    /**
     * Reads many at once into the memory of the entity manager, so that find() asks the database no more.
     *
     * @param list<string> $serials
     *
     * @return array<string, array<string, Holding>> what they hold, by serial and app
     */
    public function gather(array $serials): array
    {
        $this->entities->getRepository(Phone::class)->findBy(['serial' => $serials]);
        $holdings = [];
        foreach ($this->entities->getRepository(Holding::class)->findBy(['serial' => $serials]) as $holding) {
            $holdings[$holding->serial][$holding->app] = $holding;
        }

        return $holdings;
    }
}
