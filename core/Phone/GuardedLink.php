<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/**
 * A cable at which somebody looks at the phone while it works: what will stop it soon, like a battery that runs out,
 * stops it at once, where it can go on later.
 */
final class GuardedLink extends RelayedLink
{
    /** Seconds between two looks. */
    private const EVERY = 5.0;

    private float $lookedAt = 0.0;

    /** @param float $every seconds between two looks while files travel */
    public function __construct(PhoneLink $link, private readonly float $every = self::EVERY)
    {
        parent::__construct($link);
    }

    public function files(string $app): iterable
    {
        $this->look();

        return $this->link->files($app);
    }

    public function pull(string $app, string $path, mixed $sink, callable $onBytes, int $from = 0): array
    {
        $this->look();

        return $this->link->pull($app, $path, $sink, $this->looking($onBytes), $from);
    }

    public function push(string $app, string $stage, string $path, Sending $sending): void
    {
        $this->look();
        $this->link->push($app, $stage, $path, $sending->toldTo($this->looking($sending->onBytes)));
    }

    public function takeOver(string $app, string $stage, string $path, string $sha256): bool
    {
        $this->look();

        return $this->link->takeOver($app, $stage, $path, $sha256);
    }

    public function staged(string $app, string $stage): iterable
    {
        $this->look();

        return $this->link->staged($app, $stage);
    }

    public function stagedHash(string $app, string $stage, string $path): ?string
    {
        $this->look();

        return $this->link->stagedHash($app, $stage, $path);
    }

    public function swap(string $app, string $stage, string $seen): void
    {
        // The one step that destroys: never on a phone that may go dark in it.
        Fitness::ensure($this->link->state(), Fitness::STOPS_BELOW);
        $this->link->swap($app, $stage, $seen);
    }

    /**
     * @param callable(int): void $onBytes
     *
     * @return callable(int): void
     */
    private function looking(callable $onBytes): callable
    {
        return function (int $bytes) use ($onBytes): void {
            $onBytes($bytes);
            $this->look();
        };
    }

    private function look(): void
    {
        $now = hrtime(true) / 1e9;
        if ($now - $this->lookedAt >= $this->every) {
            $this->lookedAt = $now;
            Fitness::ensure($this->link->state(), Fitness::STOPS_BELOW);
        }
    }
}
