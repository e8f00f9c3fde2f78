<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\HandOver;

use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Backup;
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

    /**
     * Whether one backup can go by itself. A safety copy goes with its tray: it is a phone's way back.
     *
     * @throws Refusal
     */
    public function ensureMayEraseBackup(Backup $backup): void
    {
        if ($backup->isSafetyCopy()) {
            throw Refusal::because('no_such_backup');
        }
        if (null === $backup->tray->closedAt()) {
            throw Refusal::because('erase_after_hand_over');
        }
        if (!$backup->isKept()) {
            throw Refusal::because('erased_already');
        }
        if ($backup->tray->isBusy()) {
            throw Refusal::because('erase_while_busy');
        }
        $other = $this->kept->workedWithBy($backup);
        if (null !== $other) {
            throw Refusal::because('backup_being_brought', ['tray' => $other]);
        }
    }

    /**
     * Whether one can go under its customer's own password: whoever works with it could not go on.
     *
     * @throws Refusal
     */
    public function ensureMayLock(Backup $backup): void
    {
        if (null === $backup->tray->closedAt()) {
            throw Refusal::because('lock_after_hand_over');
        }
        $this->ensureMayEraseBackup($backup);
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
