<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Refusal;

/** When what a tray keeps may go. */
final readonly class Keeping
{
    public function __construct(private KeptBackups $kept)
    {
    }

    /** @throws Refusal */
    public function ensureMayErase(Tray $tray): void
    {
        if (null === $tray->closedAt()) {
            throw Refusal::because('erase_after_hand_over');
        }
        if (null !== $tray->erasedAt() || null !== $tray->eraseAskedAt()) {
            throw Refusal::because('erased_already');
        }
        if ($tray->isBusy()) {
            throw Refusal::because('erase_while_busy');
        }
        $this->ensureNobodyBrings($tray);
    }

    /** @throws Refusal while another tray brings what would go */
    public function ensureNobodyBrings(Tray $tray): void
    {
        $other = $this->kept->broughtBy($tray);
        if (null !== $other) {
            throw Refusal::because('backup_being_brought', ['tray' => $other]);
        }
    }
}
