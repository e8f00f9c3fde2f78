<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Files\Locked\ContentKey;

/** Where a file of what is imported lies, and what is promised of it there. */
final readonly class Lying
{
    /**
     * @param string          $source below the root
     * @param string|null     $sha256 of its content; null where nobody promises any
     * @param ContentKey|null $key    of whoever packed it; what comes is what that opens
     */
    public function __construct(public string $source, public ?string $sha256 = null, public ?ContentKey $key = null)
    {
    }
}
