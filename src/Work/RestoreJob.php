<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Tray\Holdings;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Stage;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Progress;
use Geschenk\Core\Restore\RestorePermit;
use Geschenk\Core\Restore\Restorer;
use Geschenk\Core\Restore\RestoreRefused;
use Psr\Clock\ClockInterface;
use Symfony\Component\Uid\Uuid;

/** Stages the converted chats on the receiving phone, verifies them there, swaps them in; the arrival check follows. */
final class RestoreJob extends PhoneJob
{
    public function __construct(
        PhoneDirectory $phones,
        private readonly Restorer $restorer,
        private readonly Holdings $holdings,
        private readonly TrayFiles $files,
        private readonly RunSheet $sheet,
        private readonly EntityManagerInterface $entities,
        private readonly ClockInterface $clock,
    ) {
        parent::__construct($phones);
    }

    public static function kind(): string
    {
        return RunKind::Restore->value;
    }

    public function do(Run $run, Progress $progress): void
    {
        $tray = $run->tray;
        $link = $this->link($run);
        $receiving = $tray->phone(Role::Receives);
        // An interruption may have come behind the swap: the phone itself says so.
        if ($link->swapped($tray->app) !== $run->id) {
            try {
                $manifest = $this->files->manifest($tray);
                $staged = $this->restorer->stage($this->permit($run), $link, $tray->app, $this->files->converted($tray), $manifest, $run->id, $progress);
                // Staging takes a while: prove once more that nothing came in meanwhile, and hold the swap to that.
                $this->restorer->swapIn($this->permit($run), $staged, $link, $progress);
            } catch (RestoreRefused $refusal) {
                $link->dropStage($tray->app, $run->id);
                throw $refusal;
            } catch (\UnexpectedValueException $broken) {
                throw new \RuntimeException('The list of what was rehearsed is not as it was made. Convert again; nothing was changed on the phone.', 0, $broken);
            }
        } else {
            $link->restart();
        }
        $this->sheet->note($tray, Stage::Restore, $run->askedBy, sprintf('Written to phone %s after its tag was typed; verified on the phone before the swap', $receiving->tag));
    }

    public function next(Run $run): Run
    {
        $check = new Run(Uuid::v7()->toRfc4122(), $run->tray, RunKind::Check, $this->clock->now(), $run->askedBy);
        $this->entities->persist($check);

        return $check;
    }

    protected function role(): Role
    {
        return Role::Receives;
    }

    private function permit(Run $run): RestorePermit
    {
        $tray = $run->tray;
        if (($this->files->plan($tray)['choices'] ?? null) !== $tray->choices()) {
            throw RestoreRefused::otherChoices();
        }
        $rehearsal = $this->files->isConverted($tray) ? (new Result($this->files->rehearsal($tray)))->totals() : null;
        // Marked before it is read: what comes in while we read has changed it.
        $seen = $this->link($run)->mark($tray->app);
        $holds = $this->holdings->readNow($this->link($run), $tray->app);

        return RestorePermit::grant($tray->phone(Role::Receives)->tag, $run->confirmedTag ?? '', $rehearsal, ['conversations' => $holds['conversations'], 'messages' => $holds['messages']], $seen);
    }
}
