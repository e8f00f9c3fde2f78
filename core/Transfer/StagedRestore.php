<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Content\Manifest;

/** The proof that a stage on the phone was held against what was rehearsed. Only Restorer::stage() gives one. */
final readonly class StagedRestore
{
    /** @internal */
    public function __construct(public string $app, public string $stage, public Manifest $manifest)
    {
    }
}
