<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\PhoneUnplugged;

/**
 * A phone as the API shows it.
 *
 * @phpstan-type Live array{serial: string, maker: string, model: string, platform: string, os_version: string, plugged: bool, open: bool, unlocked: bool, battery: int|null, free_bytes: int|null, messenger: array{name: string, version: string, number: string|null}|null}
 */
final readonly class PhoneView
{
    public function __construct(private PhoneDirectory $phones)
    {
    }

    public function state(string $serial): ?PhoneState
    {
        try {
            return $this->phones->link($serial)->state();
        } catch (PhoneUnplugged) {
            return null;
        }
    }

    /** @return Live */
    public function live(string $serial, string $app): array
    {
        $state = $this->state($serial);
        if (null === $state) {
            return ['serial' => $serial, 'maker' => '', 'model' => 'Phone not on the bench', 'platform' => 'android', 'os_version' => '', 'plugged' => false, 'open' => false, 'unlocked' => false, 'battery' => null, 'free_bytes' => null, 'messenger' => null];
        }
        $messenger = $state->app($app);

        return [
            'serial' => $serial, 'maker' => $state->maker, 'model' => $state->model, 'platform' => $state->platform, 'os_version' => $state->osVersion,
            'plugged' => $state->plugged, 'open' => $state->isOpen(), 'unlocked' => $state->unlocked, 'battery' => $state->battery, 'free_bytes' => $state->free,
            'messenger' => null === $messenger ? null : ['name' => $messenger->name, 'version' => $messenger->version, 'number' => $messenger->number],
        ];
    }
}
