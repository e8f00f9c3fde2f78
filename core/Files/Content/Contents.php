<?php

declare(strict_types=1);

namespace Geschenk\Core\Files\Content;

use Geschenk\Core\Files\Durable\DiskFailure;

/** Files that belong together, each under its path, however they lie: in a folder, or sealed in the vault. */
interface Contents
{
    /**
     * @return \Generator<int, string> their paths, in a stable order
     *
     * @throws DiskFailure
     */
    public function paths(): \Generator;

    /** @return int|null bytes of one; null where there is none of that path, or it would be read through a link */
    public function bytes(string $path): ?int;

    /**
     * @return string SHA-256 of one, read to its end
     *
     * @throws DiskFailure
     */
    public function sha256(string $path): string;

    /**
     * @return resource a stream to read one from, which can be sought in
     *
     * @throws DiskFailure
     */
    public function open(string $path): mixed;
}
