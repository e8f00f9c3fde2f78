<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** The port to all phones known at this bench. */
interface PhoneDirectory
{
    /** @return list<string> serials */
    public function serials(): array;

    /** @throws PhoneUnplugged when there is no such phone */
    public function link(string $serial): PhoneLink;
}
