<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/**
 * One line of the readiness of a phone. What it means, and what to do on the phone, is said under "point" in
 * translations/; who can do it is said here.
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

    /**
     * @param string                    $id      stable name
     * @param string                    $variant of the words; the id where there is one only
     * @param array<string, string|int> $params  what the words need
     * @param string|null               $app     for a point of one messenger on the phone: the app's id
     */
    public function __construct(
        public string $id,
        public string $status,
        public string $variant,
        public array $params = [],
        public ?string $app = null,
    ) {
    }

    /** @return self::TECHNICIAN|self::OWNER */
    public function who(): string
    {
        return match ($this->id) {
            'bench', 'cable', 'battery', 'space' => self::TECHNICIAN,
            default => self::OWNER,
        };
    }

    public function isReady(): bool
    {
        return self::READY === $this->status;
    }
}
