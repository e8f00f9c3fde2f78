<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Locking;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfBackup;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\HandOver\Keeping;
use Geschenk\App\Work\Against\HeldResults;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Progress;
use Psr\Clock\ClockInterface;

/**
 * Puts a backup under a password of its customer's, with what was kept of the receiving phone in the same job: from
 * then on nobody at the shop opens it. It is read back before, for the last time that somebody can.
 */
final readonly class LockingKind implements KindOfBackup
{
    /** Letters of a password that nobody guesses soon who has the disk. */
    public const LEAST = 8;

    public function __construct(
        private SealedVault $vault,
        private EntityManagerInterface $entities,
        private Records $records,
        private Keeping $keeping,
        private HeldResults $held,
        private KeySafe $keys,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    public static function name(): string
    {
        return 'locking';
    }

    public function ensureMayBegin(Backup $backup): void
    {
        $this->keeping->ensureMayLock($backup);
        BackupState::Locked !== $backup->state() ?: throw Refusal::because('backup_locked');
        foreach (self::allOf($backup, $this->entities) as $one) {
            $this->vault->isSealed($one->id) ?: throw Refusal::because('not_sealed_yet');
        }
    }

    public function take(Run $run, Asked $asked): void
    {
        if (null === $asked->key && null !== $run->lockedKey()) {
            // It goes on: it was told before.
            return;
        }
        if (mb_strlen($asked->key ?? '') < self::LEAST) {
            throw Refusal::because('backup_password_short', ['least' => self::LEAST]);
        }
        $run->keepKey($this->keys->put($asked->key ?? ''), $this->clock->now());
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $password = $this->keys->told($run->lockedKey()) ?? throw Refusal::because('lock_password_gone');
        $ids = array_map(
            static fn (Backup $one): string => $one->id, self::allOf($run->backup(), $this->entities),
        );
        // All of them before the first: what is not whole is locked with nothing.
        foreach ($ids as $id) {
            $this->vault->verify($id, $progress);
        }
        foreach ($ids as $id) {
            // What is known of it without its key goes before.
            $one = $this->entities->find(Backup::class, $id);
            null === $one ?: $this->held->forget($one);
            $this->vault->lock($id, $password, $progress);
            $this->records->change(fn () => $this->entities->find(Backup::class, $id)?->locked($this->clock->now()));
        }
        $backup = $run->backup();
        $this->log->note($run->askedBy(), 'backup_locked', $backup->tray->number, ['edition' => $backup->edition]);
    }

    /** What is locked by then is unlocked by its password alone: it is brought to its end. */
    public function undo(Run $run): Undone
    {
        return new Undone(isTooLate: $this->vault->isLocked($run->backup()->id));
    }

    /**
     * It and what was kept of the phone that it was brought to, as long as they are kept.
     *
     * @return list<Backup>
     */
    public static function allOf(Backup $backup, EntityManagerInterface $entities): array
    {
        $copies = $entities->getRepository(Backup::class)->findBy([
            'tray' => $backup->tray, 'app' => $backup->app, 'origin' => Origin::SafetyCopy,
        ]);

        return [$backup, ...array_values(array_filter($copies, static fn (Backup $copy): bool => $copy->isKept()))];
    }
}
