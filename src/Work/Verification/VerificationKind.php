<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Verification;

use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfBackup;
use Geschenk\App\Runs\Undone;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Progress;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\UnusableInput;
use Psr\Clock\ClockInterface;

/** Reads a kept backup back once more, and keeps what was found: it was whole when it was kept, and disks grow old. */
final readonly class VerificationKind implements KindOfBackup
{
    public function __construct(
        private Records $records,
        private Vault $vault,
        private DataFolder $data,
        private ShopLog $log,
        private ClockInterface $clock,
    ) {
    }

    public static function name(): string
    {
        return 'verification';
    }

    public function ensureMayBegin(Backup $backup): void
    {
        $backup->isKept() ?: throw Refusal::because('erased_already');
    }

    public function take(Run $run, Asked $asked): void
    {
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $trouble = null;
        $params = [];
        try {
            $this->vault->verify($run->backup()->id, $progress);
        } catch (UnusableInput|DiskFailure $broken) {
            [$trouble, $params] = [$broken->reason, $this->data->withoutPlace($broken->fields)];
        } catch (KeyFailure $failure) {
            // Without its key it is as good as gone; that nobody has told the shop's says nothing of the backup.
            $failure->isFinal() ?: throw $failure;
            $trouble = $failure->reason;
        }
        $this->records->change(function () use ($run, $trouble, $params): void {
            $backup = $run->backup();
            $backup->verified($this->clock->now(), $trouble, $params);
            $code = null === $trouble ? 'verified' : 'found_broken';
            $this->log->noteWithFlush('bench', $code, $backup->tray->number, ['edition' => $backup->edition]);
        });
    }

    /** It leaves nothing anywhere. */
    public function undo(Run $run): Undone
    {
        return new Undone();
    }
}
