<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Verification;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Work\SecondPlace\Mending;
use Geschenk\App\Work\StopsAlone;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\UnusableInput;
use Psr\Clock\ClockInterface;

/**
 * Reads a kept backup back to the last byte, and keeps what was found. What is broken is mended with what lies at the
 * second place, where that can be, and is read once more.
 */
final readonly class ReadBack
{
    public function __construct(
        private Records $records,
        private EntityManagerInterface $entities,
        private Vault $vault,
        private DataFolder $data,
        private Mending $mending,
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
        [$trouble, $params, $isMendable] = $this->found($id, $progress);
        $mended = $isMendable ? $this->mending->mend($id, new StopsAlone($progress)) : null;
        if (null !== $mended) {
            [$trouble, $params] = $this->found($id, $progress);
        }
        $this->records->change(function () use ($id, $trouble, $params, $isNoted, $mended): void {
            $backup = $this->entities->find(Backup::class, $id);
            if (true !== $backup?->isKept()) {
                return;
            }
            $backup->verified($this->clock->now(), $trouble, $params);
            if (null !== $mended && null === $trouble) {
                $this->entities->find(PlacedCopy::class, $id)?->hasMended($this->clock->now());
                $this->log->noteWithFlush('bench', 'backup_mended', $backup->tray->number, [
                    'edition' => $backup->edition, 'files' => $mended,
                ]);

                return;
            }
            if ($isNoted || null !== $trouble) {
                $code = null === $trouble ? 'verified' : 'found_broken';
                $this->log->noteWithFlush('bench', $code, $backup->tray->number, ['edition' => $backup->edition]);
            }
        });
    }

    /**
     * @return array{string|null, array<string, string|int>, bool} what is wrong with it, with fields, and whether that
     *                                                             is its files' fault
     */
    private function found(string $id, Progress $progress): array
    {
        try {
            $this->vault->verify($id, $progress);

            return [null, [], false];
        } catch (UnusableInput|DiskFailure $broken) {
            return [$broken->reason, $this->data->withoutPlace($broken->fields), true];
        } catch (KeyFailure $failure) {
            // Without its key it is as good as gone.
            $failure->isFinal() ?: throw $failure;

            return [$failure->reason, [], false];
        }
    }
}
