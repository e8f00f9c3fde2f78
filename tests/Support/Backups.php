<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Archive\PlainVault;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\ReadingHere;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\WayIn\Cable\CableWay;
use Geschenk\Core\WayIn\LocalBackup\LocalBackupWay;

/** Backups by the ways in of the core, with no application around them. */
final readonly class Backups
{
    public function __construct(
        private Formats $formats = new Formats(),
        private ChatReading $reading = new ReadingHere(),
        private string $app = 'otterpost',
    ) {
    }

    /** @param string $target folder of the finished backup */
    public function overCable(
        PhoneLink $link,
        string $target,
        Progress $progress = new NoProgress(),
        bool $isWhole = false,
    ): void {
        $way = new CableWay($this->chats());
        $this->maker($target)->make(
            $isWhole ? $way->whole() : $way, new Taking($link, $this->app, CableWay::now()), basename($target),
            ['External-Identifier' => 'test'], $progress,
        );
    }

    /** @param string $path of the messenger's own backup, on the phone */
    public function outOf(PhoneLink $link, string $path, string $target, ?BackupKey $key = null): void
    {
        $this->maker($target)->make(
            $this->own(), new Taking($link, $this->app, new Offer(LocalBackupWay::name(), $path), $key),
            basename($target), [],
            new NoProgress(),
        );
    }

    /** @return list<Offer> the messenger's own backups on a phone */
    public function offered(PhoneLink $link): array
    {
        return $this->own()->offers($link, $this->app);
    }

    public function chats(): PhoneChats
    {
        return new PhoneChats($this->formats, $this->reading);
    }

    private function maker(string $target): BackupMaker
    {
        return new BackupMaker($this->reading, new PlainVault(dirname($target)));
    }

    private function own(): LocalBackupWay
    {
        return new LocalBackupWay($this->chats(), $this->reading, $this->formats);
    }
}
