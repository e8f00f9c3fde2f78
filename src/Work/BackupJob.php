<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Stage;
use Geschenk\Core\Archive\BackupMaker;
use Geschenk\Core\Files\DiskFull;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema;
use Psr\Clock\ClockInterface;

final class BackupJob extends PhoneJob
{
    /** Of the bytes to pull: the chats that are read out of them take some room too. */
    private const SPACE_FACTOR = 1.25;

    public function __construct(
        PhoneDirectory $phones,
        private readonly BackupMaker $maker,
        private readonly DataFolder $data,
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
        $tray = $run->tray;
        $link = $this->link($run);
        $folder = $this->data->backup($run->id);
        $key = $this->keys->take($run->lockedKey());
        if (!is_dir($folder)) {
            $this->ensureSpace($run, $folder);
        }
        $this->maker->make($link, $tray->app, $folder, [
            'Bagging-Date' => $this->clock->now()->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk', 'External-Identifier' => $run->id,
            'External-Description' => sprintf('Chats of %s on phone %s, for tray %d', $tray->app, $link->serial(), $tray->number),
        ], $progress, $key);
        if (null === $this->entities->find(Backup::class, $run->id)) {
            $chats = new ChatStore($folder.'/data/'.Schema::FILE_NAME);
            $summary = $chats->summary();
            $this->entities->persist(new Backup(
                $run->id, $tray, $link->serial(), $this->clock->now(), $chats->source()->account, $summary['conversations'], $summary['messages'],
                $summary['attachments'], $summary['attachments_missing'], $summary['attachment_bytes'], $summary['last_at'], $summary['lost'],
            ));
            $this->sheet->note($tray, Stage::BackUp, $run->askedBy, sprintf('%s messages in %d conversations and %s attachments from phone %s%s; packed%s', number_format($summary['messages']), $summary['conversations'], number_format($summary['attachments_present']), $tray->phone(Role::Gives)->tag, null === $key ? '' : ', out of its sealed backup', $summary['lost'] > 0 ? sprintf('; %s messages are damaged on the phone itself', number_format($summary['lost'])) : ''));
        }
    }

    protected function role(): Role
    {
        return Role::Gives;
    }

    private function ensureSpace(Run $run, string $folder): void
    {
        $bytes = 0;
        foreach ($this->link($run)->files($run->tray->app) as $file) {
            $bytes += $file->bytes;
        }
        // Only for what is still to come: the raw files, and the chats read out of them.
        foreach (is_dir($folder.'.part') ? Folder::files($folder.'.part', BackupMaker::RAW) : [] as $path) {
            $bytes -= (int) filesize($folder.'.part/'.$path);
        }
        $free = disk_free_space($this->data->backups());
        $needed = (int) (self::SPACE_FACTOR * max(0, $bytes));
        if (false !== $free && $free < $needed) {
            throw new DiskFull(sprintf('%.1f GB', $needed / 1e9));
        }
    }
}
