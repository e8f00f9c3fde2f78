<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Looks;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunKind;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\RunSheet;
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

/** Takes the backup of a move's account. */
final class BackupJob extends PhoneJob
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
    ) {
        parent::__construct($phones);
    }

    public static function kind(): string
    {
        return RunKind::Backup->value;
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
            $move->backedUp($backup);
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
