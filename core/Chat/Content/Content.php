<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat\Content;

/** What a message holds besides text and files. */
interface Content
{
    /** The word under which it is stored. */
    public function sort(): string;

    /** @return array<string, mixed> scalars, lists and maps, in a fixed order */
    public function toArray(): array;
}
