<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Verification;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\UnusableInput;
use Psr\Clock\ClockInterface;

/** Reads a kept backup back to the last byte, and keeps what was found. */
final readonly class ReadBack
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private Vault $vault,
        private DataFolder $data,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param bool $isNoted whether the log has it too where it is whole
     *
     * @throws KeyFailure where nobody has told the shop's key: that says nothing of the backup
     */
    public function do(string $id, Progress $progress, bool $isNoted): void
    {
        $trouble = null;
        $params = [];
        try {
            $this->vault->verify($id, $progress);
        } catch (UnusableInput|DiskFailure $broken) {
            [$trouble, $params] = [$broken->reason, $this->data->withoutPlace($broken->fields)];
        } catch (KeyFailure $failure) {
            // Without its key it is as good as gone.
            $failure->isFinal() ?: throw $failure;
            $trouble = $failure->reason;
        }
        $this->records->change(function () use ($id, $trouble, $params, $isNoted): void {
            $backup = $this->entities->find(Backup::class, $id);
            if (true !== $backup?->isKept()) {
                return;
            }
            $backup->verified($this->clock->now(), $trouble, $params);
            if ($isNoted || null !== $trouble) {
                $code = null === $trouble ? 'verified' : 'found_broken';
                $this->log->noteWithFlush('bench', $code, $backup->tray->number, ['edition' => $backup->edition]);
            }
        });
    }
}
