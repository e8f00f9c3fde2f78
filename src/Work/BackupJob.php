<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunKind;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\RunSheet;
use Geschenk\Core\Archive\Backup as KeptBackup;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\BackupMaker;
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
            $this->ensureSpace($run, $folder);
        }
        $this->maker->make($link, $move->app, $folder, [
            'Bagging-Date' => $this->clock->now()->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk',
            'External-Identifier' => $run->id,
            'External-Description' => sprintf('%s, %s, %d', $move->edition, $link->serial(), $move->tray->number),
        ], $progress, $key);
        if (null !== $this->entities->find(Backup::class, $run->id)) {
            return;
        }
        $this->records->change(function () use ($run, $folder, $link, $key): void {
            $move = $run->move;
            $chats = (new KeptBackup($folder))->chats();
            $summary = $chats->summary();
            $backup = new Backup(
                $run->id, $this->records->next(Backup::class), $move->tray, $link->serial(), $move->app, $move->edition,
                null === $key ? Backup::OVER_CABLE : Backup::SEALED_ON_PHONE, $this->clock->now(),
                $chats->source()->account, $summary['conversations'], $summary['messages'], $summary['attachments'],
                $summary['attachments_missing'], $summary['attachment_bytes'], $summary['last_at'], $summary['lost'],
            );
            $this->entities->persist($backup);
            $move->backedUp($backup);
            $code = null === $key ? 'backed_up' : 'backed_up_sealed';
            $this->sheet->note($move->tray, $move, Stage::BackUp, $run->askedBy(), $code, [
                'messages' => $summary['messages'], 'conversations' => $summary['conversations'],
                'attachments' => $summary['attachments_present'], 'tag' => $move->from()->tag,
                'lost' => $summary['lost'],
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

    protected function phone(Run $run): TrayPhone
    {
        return $run->move->from();
    }

    private function ensureSpace(Run $run, string $folder): void
    {
        $bytes = 0;
        foreach ($this->link($run)->files($run->move->app) as $file) {
            $bytes += $file->bytes;
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
