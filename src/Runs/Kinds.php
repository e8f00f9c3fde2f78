<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

use Symfony\Component\DependencyInjection\Attribute\AutowireLocator;
use Symfony\Contracts\Service\ServiceProviderInterface;

/** The kinds of runs that there are. */
final readonly class Kinds
{
    /** @param ServiceProviderInterface<Kind> $kinds */
    public function __construct(
        #[AutowireLocator(Kind::class, defaultIndexMethod: 'name')] private ServiceProviderInterface $kinds,
    ) {
    }

    /** @return Kind|null null where there is none of that name */
    public function find(string $name): ?Kind
    {
        return $this->kinds->has($name) ? $this->kinds->get($name) : null;
    }

    public function of(string $name): Kind
    {
        return $this->find($name) ?? throw new \LogicException("There is no kind of run named $name.");
    }

    public function ofMove(string $name): KindOfMove
    {
        $kind = $this->of($name);

        return $kind instanceof KindOfMove ? $kind : throw new \LogicException("A $name is not of a move.");
    }

    /** @return list<KindOfMove> those that bring chats across, in the order of their stages */
    public function across(): array
    {
        $kinds = array_filter(
            $this->ofMoves(), static fn (KindOfMove $kind): bool => $kind->goesAcross() && !$kind->isWayBack(),
        );
        usort($kinds, static fn (KindOfMove $a, KindOfMove $b): int => $a->stage()->place() <=> $b->stage()->place());

        return $kinds;
    }

    /** @return list<string> names of those that go on behind the hand-over */
    public function waysBack(): array
    {
        return array_values(array_map(
            static fn (KindOfMove $kind): string => $kind::name(),
            array_filter($this->ofMoves(), static fn (KindOfMove $kind): bool => $kind->isWayBack()),
        ));
    }

    /** @return list<KindOfMove> */
    public function ofMoves(): array
    {
        $all = array_map($this->of(...), array_keys($this->kinds->getProvidedServices()));

        return array_values(array_filter($all, static fn (Kind $kind): bool => $kind instanceof KindOfMove));
    }
}
