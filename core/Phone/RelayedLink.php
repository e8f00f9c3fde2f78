<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** A cable that hands everything on to another; who has something to add to a call does so in its own. */
abstract class RelayedLink implements PhoneLink
{
    public function __construct(protected readonly PhoneLink $link)
    {
    }

    public function serial(): string
    {
        return $this->link->serial();
    }

    public function state(): PhoneState
    {
        return $this->link->state();
    }

    public function files(string $app): iterable
    {
        return $this->link->files($app);
    }

    public function folders(string $app, string $folder, int $most): array
    {
        return $this->link->folders($app, $folder, $most);
    }

    public function file(string $app, string $path): ?PhoneFile
    {
        return $this->link->file($app, $path);
    }

    public function pull(string $app, string $path, mixed $sink, callable $onBytes, int $from = 0): array
    {
        return $this->link->pull($app, $path, $sink, $onBytes, $from);
    }

    public function push(string $app, string $stage, string $path, Sending $sending): void
    {
        $this->link->push($app, $stage, $path, $sending);
    }

    public function takeOver(string $app, string $stage, string $path, string $sha256): bool
    {
        return $this->link->takeOver($app, $stage, $path, $sha256);
    }

    public function beginning(string $app, string $stage, string $path): int
    {
        return $this->link->beginning($app, $stage, $path);
    }

    public function staged(string $app, string $stage): iterable
    {
        return $this->link->staged($app, $stage);
    }

    public function stagedHash(string $app, string $stage, string $path): ?string
    {
        return $this->link->stagedHash($app, $stage, $path);
    }

    public function mark(string $app): string
    {
        return $this->link->mark($app);
    }

    public function swap(string $app, string $stage, string $seen): void
    {
        $this->link->swap($app, $stage, $seen);
    }

    public function swapped(string $app): ?string
    {
        return $this->link->swapped($app);
    }

    public function dropStage(string $app, string $stage): void
    {
        $this->link->dropStage($app, $stage);
    }

    public function restart(): void
    {
        $this->link->restart();
    }
}
