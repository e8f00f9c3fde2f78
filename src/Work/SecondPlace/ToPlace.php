<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Geschenk\App\Entity\Backup;

/** A folder that a copy is made of. */
final readonly class ToPlace
{
    /**
     * @param string           $name    that the copy has
     * @param string           $state   how it lies now
     * @param \Closure(): bool $isStill whether it lies so still, and is to be kept still
     */
    public function __construct(
        public string $name,
        public string $folder,
        public string $state,
        private \Closure $isStill,
        public ?Backup $backup = null,
    ) {
    }

    /** @phpstan-impure */
    public function isStill(): bool
    {
        return ($this->isStill)();
    }
}
