<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** A phone with its part in a job, as a rule of readiness judges it. */
final readonly class Situation
{
    /**
     * @param Demand|null $job what is asked of the phone; null while nobody knows
     */
    public function __construct(public PhoneState $phone, public Role $role, public ?Demand $job)
    {
    }
}
