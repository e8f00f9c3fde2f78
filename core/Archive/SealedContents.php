<?php

declare(strict_types=1);

namespace Geschenk\Core\Archive;

use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Files\Durable\Disk;

/** What was pulled, of a bag that lies sealed: unsealed piece by piece, and nowhere put open. */
final readonly class SealedContents implements Contents
{
    private const PREFIX = Workplace::RAW.'/';

    public function __construct(private SealedBag $bag)
    {
    }

    public function paths(): \Generator
    {
        foreach ($this->bag->listed() as $file) {
            if (str_starts_with($file['path'], self::PREFIX)) {
                yield substr($file['path'], strlen(self::PREFIX));
            }
        }
    }

    public function bytes(string $path): ?int
    {
        return $this->bag->file(self::PREFIX.$path)->bytes();
    }

    public function sha256(string $path): string
    {
        $stream = $this->open($path);
        try {
            return Disk::sha256Of($stream, $path);
        } finally {
            fclose($stream);
        }
    }

    public function open(string $path): mixed
    {
        return $this->bag->file(self::PREFIX.$path)->open();
    }
}
