<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Sealing;

use Geschenk\App\Work\KeepingDesk;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;

/** Has sealed what a version before has left open; a folder that is looked at once a minute, and mostly has none. */
final readonly class LyingOpen
{
    public function __construct(private SealingKind $kind, private KeepingDesk $desk, private Keyring $keys)
    {
    }

    public function look(): void
    {
        try {
            if ([] !== $this->kind->toSeal() && $this->keys->isMade()) {
                $this->keys->ensureOpen();
                $this->desk->askOfShop(SealingKind::name(), 'bench');
            }
        } catch (KeyFailure) {
            // Nothing is sealed without a key; the shop says so itself wherever one is needed.
        }
    }
}
