<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

use Geschenk\Core\Platform;

/** What can be seen of a phone. What it does not show to this computer is null. */
final readonly class PhoneState
{
    /**
     * @param int|null            $battery  percent
     * @param int|null            $free     bytes
     * @param bool|null           $debugging USB debugging; null on platforms that have none
     * @param bool                $admitted  the phone allows or trusts this computer
     * @param list<AppState>|null $apps      messengers
     * @param PhoneSettings       $settings  what is set on it
     * @param bool|null           $charging  whether the battery fills
     * @param int|null            $upFor     seconds since it was started
     */
    public function __construct(
        public string $serial,
        public string $maker,
        public string $model,
        public Platform $platform,
        public string $osVersion,
        public bool $plugged,
        public bool $unlocked,
        public ?int $battery,
        public ?bool $debugging,
        public bool $admitted,
        public ?int $free,
        public ?array $apps,
        public PhoneSettings $settings = new PhoneSettings(),
        public ?bool $charging = null,
        public ?int $upFor = null,
    ) {
    }

    /** Whether files can be read and written now. */
    public function isOpen(): bool
    {
        return $this->plugged && $this->admitted && false !== $this->debugging;
    }

    public function app(string $id): ?AppState
    {
        foreach ($this->apps ?? [] as $app) {
            if ($app->id === $id) {
                return $app;
            }
        }

        return null;
    }
}
