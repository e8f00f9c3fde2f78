<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Time;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Pace;
use Geschenk\App\Entity\Run;
use Geschenk\App\Runs\KindOfMove;
use Geschenk\App\Runs\Kinds;
use Geschenk\App\Runs\Phase;
use Geschenk\Core\Phone\Role;
use Symfony\Contracts\Service\ResetInterface;

/** How fast this computer, and each phone at its cable, has been; measured in every run that came to its end. */
final class Paces implements ResetInterface
{
    /** Seconds: what took less tells nothing. */
    private const LEAST = 0.05;

    /** @var list<Pace>|null read once for a page, which asks for many trays */
    private ?array $all = null;

    public function __construct(
        private readonly EntityManagerInterface $entities,
        private readonly Phones $phones,
        private readonly Kinds $kinds,
    ) {
    }

    public function reset(): void
    {
        $this->all = null;
    }

    /**
     * In the caller's transaction.
     *
     * @param array<string, array{seconds: float, bytes: int|null}> $spent by phase; bytes that moved in it, null where
     *                                                                     it did not count them
     */
    public function learn(Run $run, array $spent): void
    {
        if (!$run->subject() instanceof Move) {
            return;
        }
        $this->reset();
        $units = $this->units($run->move());
        foreach ($this->kinds->ofMove($run->kind)->phases($run->move()) as $phase) {
            $seconds = $spent[$phase->name]['seconds'] ?? 0.0;
            $done = Phase::MESSAGES !== $phase->unit && null !== ($spent[$phase->name]['bytes'] ?? null)
                ? $spent[$phase->name]['bytes']
                : $units[$phase->unit];
            if ($seconds < self::LEAST || null === $done || $done < 1) {
                continue;
            }
            $serial = $phase->isOnPhone ? $run->phone()->serial ?? '' : '';
            $key = ['kind' => $run->kind, 'phase' => $phase->name, 'serial' => $serial];
            $pace = $this->entities->find(Pace::class, $key);
            if (null === $pace) {
                $this->entities->persist(new Pace($key['kind'], $key['phase'], $serial, $done / $seconds));
            } else {
                $pace->measure($done / $seconds);
            }
        }
    }

    /** Bytes or messages a second; null where nobody has measured it. */
    public function of(KindOfMove $kind, Phase $phase, string $serial): ?float
    {
        $serial = $phase->isOnPhone ? $serial : '';
        foreach ($this->all() as $pace) {
            if ([$kind::name(), $phase->name, $serial] === [$pace->kind, $pace->phase, $pace->serial]) {
                return $pace->perSecond();
            }
        }

        // Nearly the same at one cable, whatever moves over it.
        return $phase->isOnPhone ? $this->ofCable($serial) : null;
    }

    /** Whether a run of that kind has come to its end here. */
    public function hasMeasured(KindOfMove $kind): bool
    {
        return in_array($kind::name(), array_map(static fn (Pace $pace): string => $pace->kind, $this->all()), true);
    }

    /** Bytes a second that a phone has given or taken, the slowest that was seen; null where nobody has measured it. */
    public function ofCable(string $serial): ?float
    {
        $seen = array_filter(
            $this->all(),
            static fn (Pace $pace): bool => $pace->serial === $serial
                && in_array($pace->phase, ['pulling', 'staging'], true),
        );

        return [] === $seen ? null : min(array_map(static fn (Pace $pace): float => $pace->perSecond(), $seen));
    }

    /**
     * @return array{bytes: int|null, messages: int|null, held: int, kept: int|null} of a move; null while nobody knows
     */
    public function units(Move $move): array
    {
        $bringing = $move->bringing();
        $backup = $bringing->backup();
        $holding = $move->tray->has(Role::Gives)
            ? $this->phones->holding($move->from()->serial, $move->app)
            : null;
        $counts = $holding?->counts();

        return [
            'bytes' => $bringing->brings()['bytes'] ?? $backup->attachmentBytes ?? $holding?->bytes(),
            'messages' => $bringing->brings()['messages'] ?? $backup->messages ?? $counts['messages'] ?? null,
            'held' => $move->tray->onlyBacksUp()
                ? 0
                : $this->phones->holding($move->to()->serial, $move->app)?->bytes() ?? 0,
            'kept' => $bringing->wayBack()?->attachmentBytes,
        ];
    }

    /** @return list<Pace> */
    private function all(): array
    {
        return $this->all ??= $this->entities->getRepository(Pace::class)->findAll();
    }
}
