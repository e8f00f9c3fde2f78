<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Vaults;

use Geschenk\Core\Archive\OpenBackup;
use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Progress;

/** The vault that a test has chosen; the one that ships where it has chosen none. */
final class ChosenVault implements Vault
{
    public static ?Vault $chosen = null;

    public function __construct(private readonly PlainVault $plain)
    {
    }

    public function workplace(string $id): Workplace
    {
        return $this->vault()->workplace($id);
    }

    public function isKept(string $id): bool
    {
        return $this->vault()->isKept($id);
    }

    public function keep(string $id): void
    {
        $this->vault()->keep($id);
    }

    public function verify(string $id, Progress $progress = new NoProgress()): void
    {
        $this->vault()->verify($id, $progress);
    }

    public function open(string $id): OpenBackup
    {
        return $this->vault()->open($id);
    }

    public function tagFiles(string $id, string $name): TagFiles
    {
        return $this->vault()->tagFiles($id, $name);
    }

    public function places(string $id): array
    {
        return $this->vault()->places($id);
    }

    public function discard(string $id): int
    {
        return $this->vault()->discard($id);
    }

    public function discardBegun(string $id): int
    {
        return $this->vault()->discardBegun($id);
    }

    public function sync(): void
    {
        $this->vault()->sync();
    }

    public function freeBytes(): ?int
    {
        return $this->vault()->freeBytes();
    }

    private function vault(): Vault
    {
        return self::$chosen ?? $this->plain;
    }
}
