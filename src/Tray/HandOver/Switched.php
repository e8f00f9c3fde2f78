<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\HandOver;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\SettingSeen;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Records;
use Psr\Clock\ClockInterface;

/**
 * What is switched on phones for a job, so that it is switched back at its end. Nobody has to say so: the watch sees
 * each setting as it was when the phone came to the bench, and what it is now. With the hand-over the record stays as
 * it is.
 */
final readonly class Switched
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Phones $phones,
        private ClockInterface $clock,
    ) {
    }

    /** For the watch. Writes only when something is new. */
    public function look(): void
    {
        $known = [];
        foreach ($this->entities->getRepository(SettingSeen::class)->findAll() as $seen) {
            $known[$seen->phone->id()][$seen->code.' '.$seen->app] = $seen;
        }
        foreach ($this->entities->getRepository(TrayPhone::class)->findBy(['held' => true]) as $phone) {
            $state = $this->phones->state($phone->serial);
            $settings = null === $state ? [] : $this->phones->settings($state);
            foreach ($settings as ['code' => $code, 'app' => $app, 'value' => $value]) {
                $seen = $known[$phone->id()][$code.' '.$app] ?? null;
                if ($value !== $seen?->now()) {
                    $this->records->change(fn () => $this->note($phone, $seen, $code, $app, $value));
                }
            }
        }
    }

    /** @return list<SettingSeen> what was switched on the tray's phones, by phone; what is back too */
    public function of(Tray $tray): array
    {
        $found = $this->entities->getRepository(SettingSeen::class)
            ->findBy(['phone' => $tray->phones()], ['phone' => 'ASC', 'id' => 'ASC']);

        return array_values(array_filter($found, static fn (SettingSeen $seen): bool => $seen->wasSwitched()));
    }

    private function note(TrayPhone $phone, ?SettingSeen $seen, string $code, string $app, int $value): void
    {
        if (null === $seen) {
            $earlier = $this->phones->find($phone->serial)?->cameWith($code, $app) ?? $value;
            $seen = new SettingSeen($phone, $code, $app, $earlier);
            $this->entities->persist($seen);
        }
        $seen->see($value, $this->clock->now());
    }
}
