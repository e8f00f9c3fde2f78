<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\BackupNote;
use Geschenk\App\Http\Body\BackupsToFind;
use Geschenk\App\Http\Body\CustomersPassword;
use Geschenk\App\Http\Body\EraseConfirmed;
use Geschenk\App\Http\Body\HandedOver;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Tray\HandOver\HandOver;
use Geschenk\App\View\KeptBackupView;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\App\Work\Locking\LockingKind;
use Geschenk\App\Work\Locking\LockWish;
use Geschenk\App\Work\Locking\Unlocking;
use Geschenk\App\Work\Verification\VerificationKind;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Backups that are kept behind a hand-over: what each is of, and nothing that anybody wrote. */
final readonly class KeptBackupController
{
    public function __construct(
        private KeptBackups $kept,
        private Trays $trays,
        private Erasing $erasing,
        private KeepingDesk $desk,
        private HandOver $handOver,
        private TrayAnswer $answer,
        private Unlocking $unlocking,
    ) {
    }

    /** What is looked for is a customer's name or number: it is sent in the body, and so in no log of addresses. */
    #[Route('/api/backups/find', methods: ['POST'])]
    public function find(#[MapRequestPayload('json')] BackupsToFind $asked): JsonResponse
    {
        $found = $this->kept->find($asked->words, $asked->behind ?? 0, KeptBackups::PAGE + 1);
        $page = array_slice($found, 0, KeptBackups::PAGE);
        $last = [] === $page ? null : end($page);

        return new JsonAnswer([
            'backups' => array_map(KeptBackupView::of(...), $page),
            'behind' => count($found) > KeptBackups::PAGE && null !== $last ? $last->counter : null,
        ]);
    }

    /** One by itself; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/erase', methods: ['POST'])]
    public function erase(
        string $backup,
        #[MapRequestPayload('json')] EraseConfirmed $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $tray = $this->trays->backup($backup)->tray->number;
        $this->erasing->askForBackup($backup, $told->number, $user->getUserIdentifier());

        return $this->answer->of($tray, 202);
    }

    /** Read back once more, to the last byte; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/verify', methods: ['POST'])]
    public function verify(string $backup, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->backup($backup)->tray->number;
        $this->desk->askOfBackup($backup, VerificationKind::name(), $user->getUserIdentifier());

        return $this->answer->of($tray, 202);
    }

    /** What is written beside it; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/note', methods: ['PUT'])]
    public function note(
        string $backup,
        #[MapRequestPayload('json')] BackupNote $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $tray = $this->trays->backup($backup)->tray->number;
        $this->desk->write($backup, mb_scrub(trim($told->text)), $user->getUserIdentifier());

        return $this->answer->of($tray);
    }

    /** Puts it under a password of its customer's; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/lock', methods: ['POST'])]
    public function lock(
        string $backup,
        #[MapRequestPayload('json')] CustomersPassword $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $tray = $this->trays->backup($backup)->tray->number;
        $this->desk->askOfBackup(
            $backup, LockingKind::name(), $user->getUserIdentifier(),
            new Asked(key: $told->password, own: new LockWish()),
        );

        return $this->answer->of($tray, 202);
    }

    /** Takes it back from under that password; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/unlock', methods: ['POST'])]
    public function unlock(
        string $backup,
        #[MapRequestPayload('json')] CustomersPassword $told,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->trays->backup($backup);
        $this->unlocking->unlock($of, $told->password, $user->getUserIdentifier(), (string) $request->getClientIp());

        return $this->answer->of($of->tray->number);
    }

    /** Has a run of a backup go on, rest or end; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/runs/{id<[0-9a-f-]{36}>}/{act<go-on|pause|cancel>}', methods: ['POST'])]
    public function act(string $backup, string $id, string $act, #[CurrentUser] User $user): JsonResponse
    {
        $tray = $this->trays->backup($backup)->tray->number;
        $this->desk->act($backup, $id, RunAct::from(strtr($act, '-', '_')), $user->getUserIdentifier());

        return $this->answer->of($tray, 202);
    }

    /** Keeps it until a day of its own; the answer is the tray that it was made in. */
    #[Route('/api/backups/{backup}/keeping', methods: ['PUT'])]
    public function keep(
        string $backup,
        #[MapRequestPayload('json')] HandedOver $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $tray = $this->trays->backup($backup)->tray->number;
        $this->handOver->keepBackup($backup, $told->keepUntil ?? '', $user->getUserIdentifier());

        return $this->answer->of($tray);
    }
}
