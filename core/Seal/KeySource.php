<?php

declare(strict_types=1);

namespace Geschenk\Core\Seal;

/** Where the shop's key comes from: told at the start, from a file, or from whoever starts the services. */
interface KeySource
{
    /**
     * @return string what was told, 32 bytes and more
     *
     * @throws KeyFailure where nobody has told it, or it is too short to be one
     */
    public function told(): string;
}
