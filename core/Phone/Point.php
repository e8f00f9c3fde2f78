<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/**
 * One line of the readiness of a phone. What it means, and what to do on the phone, is said under "point" in
 * translations/ and in guides/.
 */
final readonly class Point
{
    public const READY = 'ready';
    public const TO_DO = 'to_do';
    /** Can't be seen before something else is done. */
    public const UNSEEN = 'unseen';

    public const TECHNICIAN = 'technician';
    /** Who alone knows the secret that it takes: screen code, password. */
    public const OWNER = 'owner';

    /** Nothing begins before it is done. */
    public const BLOCKS = 'blocks';
    /** Better done, and no hindrance. */
    public const WARNS = 'warns';

    /**
     * @param string                           $id       stable name
     * @param self::READY|self::TO_DO|self::UNSEEN $status
     * @param self::TECHNICIAN|self::OWNER     $who      can do it
     * @param self::BLOCKS|self::WARNS         $severity
     * @param string                           $variant  of the words; the id where there is one only
     * @param array<string, string|int>        $params   what the words need
     * @param string|null                      $app      for a point of one messenger on the phone: the app's id
     * @param bool                             $isTold   whether no phone shows it, and a person says that it is done
     */
    public function __construct(
        public string $id,
        public string $status,
        public string $who,
        public string $severity,
        public string $variant,
        public array $params = [],
        public ?string $app = null,
        public bool $isTold = false,
    ) {
    }

    public function isReady(): bool
    {
        return self::READY === $this->status;
    }

    /** Whether nothing may begin because of it. */
    public function isHindrance(): bool
    {
        return !$this->isReady() && self::BLOCKS === $this->severity;
    }
}
