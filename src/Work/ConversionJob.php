<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Stage;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\Core\Archive\BackupMaker;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema;
use Geschenk\Core\Store\StoreWriter;
use Psr\Clock\ClockInterface;

/**
 * Plans the losses, writes the receiving format into a scratch folder, reads it back with that format's own reader
 * and tallies: the rehearsal. No phone is touched. An interrupted conversion begins anew, it is short.
 */
final class ConversionJob implements Job
{
    public function __construct(
        private readonly Formats $formats,
        private readonly PhoneDirectory $phones,
        private readonly TrayFiles $files,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
    ) {
    }

    public static function kind(): string
    {
        return RunKind::Conversion->value;
    }

    public function serial(Run $run): string
    {
        return 'none-'.$run->tray->number;
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function next(Run $run): ?Run
    {
        return null;
    }

    public function do(Run $run, Progress $progress): void
    {
        $tray = $run->tray;
        $backup = $this->files->backupFolder($tray) ?? throw new \RuntimeException('There is no backup to convert. Take one first.');
        $chats = new ChatStore($backup.'/data/'.Schema::FILE_NAME);
        $platform = $this->phones->link($tray->phone(Role::Receives)->serial)->state()->platform;
        $messenger = $chats->source()->messenger;
        $format = $this->formats->writing($messenger, $platform);
        $writer = $format?->writer();
        if (null === $format || null === $writer) {
            throw UnusableInput::noWriter($messenger, $platform);
        }
        $this->files->clearConversion($tray);
        $losses = Expectation::of($format->capabilities(), $this->clock->now()->getTimestamp() * 1000, $tray->choices())->build($chats, $this->files->expected($tray), $progress);
        $this->files->keepLosses($tray, $losses);
        $expected = new ChatStore($this->files->expected($tray));
        $writer->write($expected, new FolderFiles($backup.'/'.BackupMaker::RAW), $this->files->converted($tray).'.part', $progress);
        $scratch = $this->files->rehearsedStore($tray);
        $store = new StoreWriter($scratch);
        $format->reader()->read($this->files->converted($tray).'.part', new FolderFiles($this->files->converted($tray).'.part'), $store, $progress);
        $store->finish();
        $totals = (new Comparison($expected, new ChatStore($scratch)))->run($this->files->rehearsal($tray), $progress)->totals();
        @unlink($scratch);
        rename($this->files->converted($tray).'.part', $this->files->converted($tray));
        $lost = array_sum(array_map(static fn ($loss): int => $loss->messages, $losses));
        $this->sheet->note($tray, Stage::Convert, $run->askedBy, $totals->complete()
            ? sprintf('Rehearsed for %s: all %s messages tally; %s touched by %d listed %s', 'ios' === $platform ? 'iOS' : 'Android', number_format($totals->messages), number_format($lost), count($losses), 1 === count($losses) ? 'loss' : 'losses')
            : sprintf('Rehearsal does not tally: %s missing, %s more than expected', number_format($totals->missing + $totals->addedMissing), number_format($totals->extra)));
    }
}
