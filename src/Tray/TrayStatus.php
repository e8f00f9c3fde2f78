<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Work\RunKind;
use Geschenk\App\Work\RunState;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Messenger\UnusableInput;
use Geschenk\Core\Phone\Check;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Readiness;
use Geschenk\Core\Phone\Role;

/**
 * Where a tray stands and what it waits for.
 *
 * @phpstan-type ProgressRow array{phase: string, items_done: int, items_total: int, bytes_done: int, bytes_total: int, bytes_per_second: int|null, seconds_left: int|null}
 * @phpstan-type Waits array{for: string, who: string|null, tag: string|null, text: string, how: string|null, progress: ProgressRow|null}
 * @phpstan-type ReadinessRow array{tag: string, role: string, ready: bool, checks: list<array{id: string, status: string, what: string, how: string|null}>}
 */
final readonly class TrayStatus
{
    public function __construct(private RunDesk $runs, private TrayFiles $files, private PhoneView $phones, private Holdings $holdings, private PhoneDirectory $directory)
    {
    }

    public function stage(Tray $tray): Stage
    {
        $run = $this->runs->latest($tray);
        if (null !== $run && RunState::Done !== $run->state()) {
            return match ($run->kind) {
                RunKind::Backup => Stage::BackUp, RunKind::Conversion => Stage::Convert, RunKind::Restore => Stage::Restore, RunKind::Check => Stage::Check,
            };
        }

        return match (true) {
            null !== $tray->closedAt() => Stage::HandOver,
            null === $this->files->backup($tray) => Stage::Ready,
            is_file($this->files->arrival($tray)) => (new Result($this->files->arrival($tray)))->totals()->complete() ? Stage::HandOver : Stage::Check,
            null !== $this->runs->lastDone($tray, RunKind::Restore) => Stage::Check,
            null !== ($rehearsed = $this->files->rehearsed($tray)) => $rehearsed->complete() ? Stage::Restore : Stage::Convert,
            default => Stage::Look,
        };
    }

    /** @return Waits */
    public function waits(Tray $tray, Stage $stage): array
    {
        $run = $this->runs->latest($tray);
        if (null !== $run && RunState::Done !== $run->state()) {
            return $this->waitsForRun($tray, $run);
        }
        if (null !== $tray->closedAt()) {
            return self::waiting('nobody', null, null, 'Handed over');
        }
        $gives = $tray->phone(Role::Gives)->tag;
        $receives = $tray->phone(Role::Receives)->tag;

        return match ($stage) {
            Stage::Ready => $this->waitsForReadiness($tray),
            Stage::Look => self::waiting('person', 'technician', null, 'Look at the chats, then convert them'),
            Stage::Convert => self::waiting('person', 'technician', null, 'The rehearsal does not tally: see what is missing'),
            Stage::Restore => $this->waitsForRestore($tray, $receives),
            Stage::Check => is_file($this->files->arrival($tray))
                ? self::waiting('person', 'technician', $receives, $this->differences($tray))
                : self::waiting('person', 'technician', $receives, 'Check what arrived'),
            Stage::HandOver => self::waiting('person', 'technician', null, 'All arrived: hand over with the sheet'),
            default => self::waiting('person', 'technician', $gives, 'Go on'),
        };
    }

    /**
     * @return list<ReadinessRow>
     */
    public function readiness(Tray $tray): array
    {
        $giving = $this->phones->state($tray->phone(Role::Gives)->serial);
        $number = $giving?->app($tray->app)?->number;
        // As backed up, else as the giving phone holds now.
        $bytes = $this->files->backup($tray)->attachmentBytes ?? (null === $giving ? null : $this->holdings->attachmentBytes($this->directory->link($giving->serial), $tray->app));
        $rows = [];
        foreach ($tray->phones() as $phone) {
            $state = $this->phones->state($phone->serial);
            $checks = null === $state
                ? [new Check('bench', Check::TO_DO, 'On the bench', 'The phone is not at this bench. Bring it back.')]
                : Readiness::of($state, $phone->role(), $tray->app, $number, Role::Receives === $phone->role() ? $bytes : null);
            $rows[] = [
                'tag' => $phone->tag, 'role' => $phone->role()->value, 'ready' => Readiness::allReady($checks),
                'checks' => array_map(static fn (Check $c): array => ['id' => $c->id, 'status' => $c->status, 'what' => $c->what, 'how' => $c->how], $checks),
            ];
        }

        return $rows;
    }

    /** @return ProgressRow */
    public static function progress(Run $run): array
    {
        $seconds = max(0.001, $run->movedAt - $run->phaseStartedAt);
        $bytes = $run->bytesDone - $run->bytesBefore;
        $items = $run->itemsDone - $run->itemsBefore;
        $left = null;
        if (RunState::Waiting === $run->state()) {
            // Nothing moves now, so there is no speed to tell.
            $seconds = 0.0;
        }
        if ($seconds > 0.4 && $run->bytesTotal > 0 && $bytes > 0) {
            $left = (int) ceil(max(0, $run->bytesTotal - $run->bytesDone) / ($bytes / $seconds));
        } elseif ($seconds > 0.4 && $run->itemsTotal > 0 && $items > 0) {
            $left = (int) ceil(max(0, $run->itemsTotal - $run->itemsDone) / ($items / $seconds));
        }

        return [
            'phase' => $run->phase, 'items_done' => $run->itemsDone, 'items_total' => $run->itemsTotal, 'bytes_done' => $run->bytesDone, 'bytes_total' => $run->bytesTotal,
            'bytes_per_second' => $bytes > 0 && $seconds > 0.4 ? (int) ($bytes / $seconds) : null, 'seconds_left' => $left,
        ];
    }

    /** @return Waits */
    private function waitsForRun(Tray $tray, Run $run): array
    {
        $tag = match ($run->kind) {
            RunKind::Backup => $tray->phone(Role::Gives)->tag, RunKind::Conversion => null, default => $tray->phone(Role::Receives)->tag,
        };

        return match ($run->state()) {
            RunState::Waiting => self::waiting('person', 'customer', $tag, sprintf('%s interrupted', self::noun($run->kind)), (string) $run->trouble().' It goes on by itself from where it was.'),
            RunState::Failed => self::waiting('person', 'technician', $tag, sprintf('%s stopped', self::noun($run->kind)), $run->trouble()),
            RunState::Queued => self::waiting('machine', null, $tag, sprintf('%s waits for its turn', self::noun($run->kind)), null, self::progress($run)),
            default => self::waiting('machine', null, $tag, match ($run->kind) {
                RunKind::Backup => sprintf('Backing up %s', $tag), RunKind::Conversion => 'Converting and rehearsing', RunKind::Restore => sprintf('Restoring onto %s', $tag), RunKind::Check => sprintf('Reading %s back', $tag),
            }, null, self::progress($run)),
        };
    }

    /** @return Waits */
    private function waitsForReadiness(Tray $tray): array
    {
        foreach ($this->readiness($tray) as $phone) {
            foreach ($phone['checks'] as $check) {
                if (Check::TO_DO === $check['status']) {
                    return self::waiting('person', in_array($check['id'], ['space', 'battery', 'cable', 'bench'], true) ? 'technician' : 'customer', $phone['tag'], self::lacking($check['id'], $check['what']), $check['how']);
                }
            }
        }

        return self::waiting('person', 'technician', $tray->phone(Role::Gives)->tag, 'Both phones are ready: back it up');
    }

    /** @return Waits */
    private function waitsForRestore(Tray $tray, string $tag): array
    {
        try {
            $holds = $this->holdings->read($this->directory->link($tray->phone(Role::Receives)->serial), $tray->app);
            if ($holds['messages'] > 0) {
                return self::waiting('person', 'technician', $tag, 'Holds chats already', sprintf('%d conversations with %d messages are on it and would be lost. Ask the customer; take another phone or keep these chats elsewhere first.', $holds['conversations'], $holds['messages']));
            }
        } catch (NotLookedYet) {
            return self::waiting('machine', null, $tag, 'Looking at what it holds');
        } catch (PhoneUnplugged|PhoneRefuses|UnusableInput $hindrance) {
            return self::waiting('person', 'customer', $tag, 'Can’t be read now', $hindrance->getMessage());
        }

        return self::waiting('person', 'technician', $tag, 'The rehearsal tallies: confirm the restore');
    }

    private function differences(Tray $tray): string
    {
        $totals = (new Result($this->files->arrival($tray)))->totals();

        return match (true) {
            $totals->missing > 0 => sprintf('%s messages are missing', number_format($totals->missing)),
            $totals->extra > 0 => sprintf('%s messages more than expected', number_format($totals->extra)),
            default => sprintf('%s conversations with other settings', number_format($totals->settingsDiffering)),
        };
    }

    private static function lacking(string $id, string $what): string
    {
        return match ($id) {
            'cable' => 'Not connected', 'unlocked' => 'Screen is locked', 'usb_debugging' => 'USB debugging is off', 'computer_allowed' => 'Does not allow this computer yet',
            'computer_trusted' => 'Does not trust this computer yet', 'space' => 'Not enough space', 'messenger' => 'Messenger not installed', 'number' => 'Not registered with the same number', 'battery' => $what, default => $what,
        };
    }

    private static function noun(RunKind $kind): string
    {
        return match ($kind) {
            RunKind::Backup => 'Backup', RunKind::Conversion => 'Conversion', RunKind::Restore => 'Restore', RunKind::Check => 'Arrival check',
        };
    }

    /**
     * @param ProgressRow|null $progress
     *
     * @return Waits
     */
    private static function waiting(string $for, ?string $who, ?string $tag, string $text, ?string $how = null, ?array $progress = null): array
    {
        return ['for' => $for, 'who' => $who, 'tag' => $tag, 'text' => $text, 'how' => $how, 'progress' => $progress];
    }
}
