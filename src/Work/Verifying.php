<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\WorkLocks;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\DiskFailure;
use Geschenk\Core\UnusableInput;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;

/** Reads a kept backup back once more, and keeps what was found: it was whole when it was kept, and disks grow old. */
final readonly class Verifying
{
    /** Seconds after which one that was asked for and not answered is handed out again. */
    private const AGAIN_AFTER = 3_600;

    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private Vault $vault,
        private DataFolder $data,
        private ShopLog $log,
        private MessageBusInterface $bus,
        private WorkLocks $locks,
        private ClockInterface $clock,
    ) {
    }

    /**
     * Whoever asks while it is being read back already has the same answer.
     *
     * @throws Refusal where it is not kept any more
     */
    public function ask(string $id, string $by): void
    {
        $this->records->change(function () use ($id, $by): void {
            $backup = $this->entities->find(Backup::class, $id) ?? throw Refusal::because('no_such_backup');
            self::ensureMay($backup);
            if ($backup->isBeingVerified()) {
                return;
            }
            $backup->isToBeVerified($this->clock->now());
            $this->log->noteWithFlush($by, 'verify_asked', $backup->tray->number, ['edition' => $backup->edition]);
            $this->bus->dispatch(new VerifyBackup($id));
        });
    }

    /** For the watch: what was asked for, and whose worker is gone. */
    public function due(): void
    {
        $dql = 'SELECT b.id FROM '.Backup::class.' b WHERE b.verifyAskedAt <= :before AND b.eraseAskedAt IS NULL';
        $before = $this->clock->now()->modify(sprintf('-%d seconds', self::AGAIN_AFTER));
        /** @var list<string> $ids */
        $ids = $this->entities->createQuery($dql)->setParameter('before', $before)->getSingleColumnResult();
        foreach ($ids as $id) {
            $this->bus->dispatch(new VerifyBackup($id));
        }
    }

    /** While it is at it nobody erases it. */
    public function do(string $id): void
    {
        $this->entities->clear();
        $tray = $this->entities->find(Backup::class, $id)?->tray->number;
        if (null === $tray) {
            return;
        }
        $lock = $this->locks->ofErasing($tray);
        if (!$lock->acquire()) {
            return;
        }
        try {
            if (true !== $this->entities->find(Backup::class, $id)?->isKept()) {
                return;
            }
            $trouble = null;
            $params = [];
            try {
                $this->vault->verify($id);
            } catch (UnusableInput|DiskFailure $broken) {
                [$trouble, $params] = [$broken->reason, $this->data->withoutPlace($broken->fields)];
            }
            $this->records->change(function () use ($id, $tray, $trouble, $params): void {
                $this->entities->clear();
                $backup = $this->entities->find(Backup::class, $id);
                if (true !== $backup?->isKept()) {
                    return;
                }
                $backup->verified($this->clock->now(), $trouble, $params);
                $code = null === $trouble ? 'verified' : 'found_broken';
                $this->log->noteWithFlush('bench', $code, $tray, ['edition' => $backup->edition]);
            });
        } finally {
            $lock->release();
        }
    }

    /** @throws Refusal */
    public static function ensureMay(Backup $backup): void
    {
        if (!$backup->isKept()) {
            throw Refusal::because('erased_already');
        }
    }
}
