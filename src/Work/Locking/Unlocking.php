<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Locking;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Security\SignInAttempts;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Seal\KeyFailure;

/** Takes a backup back from under its customer's password, while they stand there and type it. */
final readonly class Unlocking
{
    public function __construct(
        private SealedVault $vault,
        private EntityManagerInterface $entities,
        private Records $records,
        private SignInAttempts $attempts,
        private ShopLog $log,
    ) {
    }

    /**
     * @throws Refusal    where it is not locked, or too many were tried
     * @throws KeyFailure where it is not the password
     */
    public function unlock(Backup $backup, #[\SensitiveParameter] string $password, string $by, string $address): void
    {
        BackupState::Locked === $backup->state() ?: throw Refusal::because('not_locked');
        $guessing = 'backup '.$backup->id;
        if ($this->attempts->count($guessing, $address) > 0) {
            throw Refusal::because('too_many_guesses');
        }
        try {
            $this->vault->unlock($backup->id, $password);
        } catch (KeyFailure $failure) {
            $this->log->note($by, 'backup_password_refused', $backup->tray->number, ['edition' => $backup->edition]);
            throw $failure;
        }
        $this->attempts->succeeded($guessing, $address);
        foreach (LockingKind::allOf($backup, $this->entities) as $one) {
            try {
                $this->vault->unlock($one->id, $password);
            } catch (KeyFailure) {
                // Locked with another backup of the same job, under another password: it stays so.
            }
        }
        $id = $backup->id;
        $this->records->change(function () use ($id, $by): void {
            $backup = $this->entities->find(Backup::class, $id) ?? throw Refusal::because('no_such_backup');
            foreach (LockingKind::allOf($backup, $this->entities) as $one) {
                $this->vault->isLocked($one->id) ?: $one->locked(null);
            }
            $this->log->noteWithFlush($by, 'backup_unlocked', $backup->tray->number, ['edition' => $backup->edition]);
        });
    }
}
