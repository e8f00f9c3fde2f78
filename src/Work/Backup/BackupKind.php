<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Backup;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Bench\Phones;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\TrayReadiness;
use Geschenk\App\Work\Guards;
use Geschenk\App\Work\PhoneKind;
use Geschenk\Core\Archive\Backup as KeptBackup;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\LocalBackup;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\PhoneChats;
use Psr\Clock\ClockInterface;

/**
 * Takes the backup of a move's account.
 *
 * @phpstan-import-type LocalBackup from Run as TakenBackup
 */
final class BackupKind extends PhoneKind
{
    /** Of the bytes to pull: the chats that are read out of them take some room too. */
    private const SPACE_FACTOR = 1.25;

    public function __construct(
        PhoneDirectory $phones,
        private readonly BackupMaker $maker,
        private readonly DataFolder $data,
        private readonly MoveFiles $files,
        private readonly Records $records,
        private readonly EntityManagerInterface $entities,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
        private readonly KeySafe $keys,
        private readonly PhoneChats $chats,
        private readonly Phones $seen,
        private readonly TrayReadiness $readiness,
    ) {
        parent::__construct($phones);
    }

    public static function name(): string
    {
        return 'backup';
    }

    public function stage(): Stage
    {
        return Stage::BackUp;
    }

    public function phone(Move $move): TrayPhone
    {
        return $move->from();
    }

    public function phases(Move $move): array
    {
        return [
            new Phase('pulling', Phase::BYTES, true), new Phase('reading', Phase::MESSAGES),
            new Phase('packing', Phase::BYTES),
        ];
    }

    public function goesAcross(): bool
    {
        return false;
    }

    public function ensureItsTurn(Move $move): void
    {
        Guards::ensureNotRestored($move);
    }

    public function ensureMayBegin(Move $move): void
    {
        Guards::ensureReady($this->readiness->lacking($move));
    }

    /** The messenger's own backup, and what opens it; a key that was told for chats that lie open is not kept. */
    public function take(Run $run, Asked $asked): void
    {
        $giving = $run->move->from();
        $holding = $this->seen->holding($giving->serial, $run->move->app);
        if (null === $run->localBackup()) {
            // It may have been asked for while the phone showed nothing.
            $run->takes($this->localBackup($run->move, $asked->localBackup));
        }
        $own = $run->localBackup();
        $liesOpen = null === $own && null !== $holding?->mark() && true === $holding->isOverCable();
        if ($liesOpen || BackupLock::Open->value === ($own['lock'] ?? null)) {
            return;
        }
        if (null !== $own && null === $asked->key) {
            throw Refusal::because('needs_key', ['tag' => $giving->tag]);
        }
        // Where it can't be seen now the run waits for the phone, and then the key is there if it was told.
        $run->keepKey(null === $asked->key ? null : $this->keys->put($asked->key), $this->clock->now());
    }

    /** That the phones were ready, once. */
    public function note(Run $run): void
    {
        $move = $run->move;
        $tray = $move->tray;
        $isNoted = [] !== array_filter(
            $tray->steps(), static fn (Step $step): bool => Stage::Ready === $step->stage,
        );
        if (!$isNoted) {
            $isOne = $tray->onlyBacksUp();
            $this->sheet->note($tray, null, Stage::Ready, $run->askedBy(), $isOne ? 'ready_one' : 'ready', [
                'gives' => $move->from()->tag, ...($isOne ? [] : ['receives' => $move->to()->tag]),
            ]);
        }
    }

    public function backupId(Run $run): string
    {
        return $run->id;
    }

    /**
     * The one that was asked for, and the newest where its chats lie in nothing else.
     *
     * @return TakenBackup|null null for the chats as they are
     *
     * @throws Refusal when it is not there, or no more
     */
    private function localBackup(Move $move, ?string $path): ?array
    {
        $holding = $this->seen->holding($move->from()->serial, $move->app);
        $own = null === $path ? $holding?->onlyWay() : null;
        foreach (null === $path ? [] : $holding?->localBackups() ?? [] as $one) {
            $own = $one['path'] === $path ? $one : $own;
        }
        if (null !== $path && null === $own) {
            throw Refusal::because('no_such_local_backup', ['tag' => $move->from()->tag]);
        }

        return null === $own ? null : [
            'path' => $own['path'], 'made_at' => $own['made_at'], 'lock' => $own['lock'], 'videos' => $own['videos'],
        ];
    }

    public function do(Run $run, Progress $progress): void
    {
        $move = $run->move;
        $link = $this->link($run);
        $folder = $this->data->backup($run->id);
        $key = $this->keys->take($run->lockedKey());
        if (!is_dir($folder)) {
            $this->settle($run, $link);
            $this->ensureSpace($run, $folder);
        }
        $own = $run->localBackup();
        $this->maker->make($link, $move->app, $folder, [
            'Bagging-Date' => $this->clock->now()->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk',
            'External-Identifier' => $run->id,
            'External-Description' => sprintf('%s, %s, %d', $move->edition, $link->serial(), $move->tray->number),
        ], $progress, $own['path'] ?? null, $key);
        if (null !== $this->entities->find(Backup::class, $run->id)) {
            return;
        }
        $this->records->change(function () use ($run, $folder, $link): void {
            $move = $run->move;
            $chats = (new KeptBackup($folder))->chats();
            $summary = $chats->summary();
            $own = $run->localBackup();
            $backup = new Backup(
                $run->id, $this->records->next(Backup::class), $move->tray, $link->serial(), $move->app, $move->edition,
                null === $own ? Backup::OVER_CABLE : Backup::LOCAL_BACKUP, $this->clock->now(),
                $chats->source()->account, $summary['conversations'], $summary['messages'], $summary['attachments'],
                $summary['attachments_missing'], $summary['attachment_bytes'], $chats->newestUpTo(Looks::soon()),
                $summary['lost'], null === $own ? null : (new \DateTimeImmutable())->setTimestamp($own['made_at']),
                BackupLock::tryFrom($own['lock'] ?? ''), 0 === ($own['videos'] ?? null),
                lossUncounted: $chats->isLossUncounted(),
            );
            $this->entities->persist($backup);
            $move->bringing()->isOf($backup);
            $code = null === $own ? 'backed_up' : 'backed_up_own';
            $this->sheet->note($move->tray, $move, Stage::BackUp, $run->askedBy(), $code, [
                'messages' => $summary['messages'], 'conversations' => $summary['conversations'],
                'attachments' => $summary['attachments_present'], 'tag' => $move->from()->tag,
                'lost' => $summary['lost'],
                ...(null === $own ? [] : ['made_at' => $own['made_at']]),
            ]);
        });
        // What was converted of an earlier backup is of no more use.
        $this->files->clearConversion($move);
    }

    public function undo(Run $run): Undone
    {
        if (null !== $this->entities->find(Backup::class, $run->id)) {
            return new Undone(isTooLate: true);
        }
        $folder = $this->data->backup($run->id);

        return new Undone(Folder::discard($folder) + Folder::discard($folder.'.part'));
    }

    /** Where it was asked for while the phone showed nothing: chats that do not lie open are in the newest backup. */
    private function settle(Run $run, PhoneLink $link): void
    {
        $app = $run->move->app;
        if (null !== $run->localBackup() || [] !== $this->chats->chatFiles($link, $app)) {
            return;
        }
        $own = $this->chats->localBackups($link, $app)[0] ?? null;
        if (null !== $own) {
            $this->records->change(static fn () => $run->takes([
                'path' => $own->path, 'made_at' => $own->madeAt, 'lock' => $own->lock?->value,
                'videos' => $own->videos,
            ]));
        }
    }

    private function ensureSpace(Run $run, string $folder): void
    {
        $bytes = 0;
        $above = LocalBackup::above($run->localBackup()['path'] ?? '');
        foreach ($this->link($run)->files($run->move->app) as $file) {
            $bytes += str_starts_with($file->path, $above) ? $file->bytes : 0;
        }
        // Only for what is still to come: the raw files, and the chats read out of them.
        foreach (is_dir($folder.'.part') ? Folder::files($folder.'.part', KeptBackup::RAW) : [] as $path) {
            $bytes -= (int) filesize($folder.'.part/'.$path);
        }
        $free = disk_free_space($this->data->backups());
        $needed = (int) (self::SPACE_FACTOR * max(0, $bytes));
        if (false !== $free && $free < $needed) {
            throw DiskFull::lacks($needed);
        }
    }
}
