<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** Where something is copied to on a phone before it is put in place: a stage beside an app's data, by its name. */
final readonly class Staging
{
    public function __construct(public PhoneLink $link, public string $app, public string $name)
    {
    }

    /** @return iterable<PhoneFile> what is complete in it */
    public function all(): iterable
    {
        return $this->link->staged($this->app, $this->name);
    }

    /** SHA-256 of a file that is complete in it, as the phone itself hashes it; null where there is none. */
    public function hash(string $path): ?string
    {
        return $this->link->stagedHash($this->app, $this->name, $path);
    }

    /** Bytes that are there of a file whose push was interrupted. */
    public function beginning(string $path): int
    {
        return $this->link->beginning($this->app, $this->name, $path);
    }

    /** Takes a file over from the app's data, on the phone itself; false where another content or none is there. */
    public function takeOver(string $path, string $sha256): bool
    {
        return $this->link->takeOver($this->app, $this->name, $path, $sha256);
    }

    public function push(string $path, Sending $sending): void
    {
        $this->link->push($this->app, $this->name, $path, $sending);
    }
}
