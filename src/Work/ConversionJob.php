<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Stage;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\Core\Archive\BackupMaker;
use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Files\FolderFiles;
use Geschenk\Core\Files\Manifest;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Schema;
use Psr\Clock\ClockInterface;

/**
 * Plans the losses, writes the receiving format into a scratch folder, reads it back with that format's own reader
 * and tallies: the rehearsal. No phone is touched. It leaves a list of every file that may reach the phone.
 */
final class ConversionJob implements Job
{
    public function __construct(
        private readonly Formats $formats,
        private readonly PhoneDirectory $phones,
        private readonly TrayFiles $files,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
        private readonly ChatReading $reading,
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
        // What was kept is verified again whenever it is used.
        $progress->phase('verifying');
        Bag::validate($backup);
        $chats = new ChatStore($backup.'/data/'.Schema::FILE_NAME);
        $platform = $this->phones->link($tray->phone(Role::Receives)->serial)->state()->platform;
        $messenger = $chats->source()->messenger;
        $format = $this->formats->writing($messenger, $platform);
        $writer = $format?->writer();
        if (null === $format || null === $writer) {
            throw UnusableInput::noWriter($messenger, $platform);
        }
        $this->files->clearConversion($tray);
        $part = $this->files->conversionPart($tray);
        $plan = $this->begin($tray, basename($backup), $platform, $part);
        $expectation = Expectation::of($format->capabilities(), $plan['judged_at'], $plan['choices']);
        $losses = $expectation->build($chats, $part.'/'.TrayFiles::EXPECTED, $progress);
        $expected = new ChatStore($part.'/'.TrayFiles::EXPECTED);
        $data = $part.'/'.TrayFiles::CONVERTED;
        $writer->write($expected, new FolderFiles($backup.'/'.BackupMaker::RAW), $data, $progress);
        $manifest = Manifest::make($data, $part.'/'.TrayFiles::MANIFEST, static fn (int $bytes) => $progress->advance(0));
        $scratch = $part.'/rehearsed.sqlite';
        $this->reading->read($data, new FolderFiles($data), $scratch, $progress, 'What was converted');
        $totals = (new Comparison($expected, new ChatStore($scratch)))->run($part.'/'.TrayFiles::REHEARSAL, $progress)->totals();
        Folder::remove($scratch);
        if ($manifest->digest !== Manifest::make($data, $part.'/'.TrayFiles::MANIFEST, static fn (int $bytes) => $progress->advance(0))->digest) {
            throw new \RuntimeException('What was converted changed while it was rehearsed. Convert again.');
        }
        Disk::put($part.'/'.TrayFiles::PLAN, json_encode(['losses' => array_map(static fn (Loss $loss): array => $loss->toArray(), $losses)] + $plan, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE));
        Disk::syncAll($part);
        Disk::move($part, $this->files->conversion($tray));
        $lost = array_sum(array_map(static fn (Loss $loss): int => $loss->messages, $losses));
        $this->sheet->note($tray, Stage::Convert, $run->askedBy, $totals->complete()
            ? sprintf('Rehearsed for %s: all %s messages tally; %s touched by %d listed %s', 'ios' === $platform ? 'iOS' : 'Android', number_format($totals->messages), number_format($lost), count($losses), 1 === count($losses) ? 'loss' : 'losses')
            : sprintf('Rehearsal does not tally: %s missing, %s more than expected', number_format($totals->missing + $totals->addedMissing), number_format($totals->extra)));
    }

    /**
     * Goes on with the files that an interrupted attempt with the same choices has written: they are many, and the same.
     *
     * @return array{choices: array<string, string>, judged_at: int, backup: string, platform: string, losses: list<mixed>}
     */
    private function begin(Tray $tray, string $backup, string $platform, string $part): array
    {
        $plan = ['choices' => $tray->choices(), 'judged_at' => $this->clock->now()->getTimestamp() * 1000, 'backup' => $backup, 'platform' => $platform, 'losses' => []];
        $begun = TrayFiles::readPlan($part.'/'.TrayFiles::PLAN);
        if (null !== $begun && [$begun['choices'], $begun['backup'], $begun['platform']] === [$plan['choices'], $backup, $platform]) {
            foreach ([TrayFiles::EXPECTED, TrayFiles::EXPECTED.'.plan', TrayFiles::REHEARSAL, TrayFiles::MANIFEST, 'rehearsed.sqlite'] as $leftover) {
                Folder::remove($part.'/'.$leftover);
            }

            return $begun;
        }
        Folder::remove($part);
        Folder::make($part);
        Disk::put($part.'/'.TrayFiles::PLAN, json_encode($plan, \JSON_THROW_ON_ERROR));

        return $plan;
    }
}
