<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Http\Time;
use Geschenk\Core\Arrival\Result;

/** A tray as the API shows it: short on the shelf, whole when it is open. */
final readonly class TrayView
{
    public function __construct(private TrayStatus $status, private TrayFiles $files, private PhoneView $phones, private RunDesk $runs)
    {
    }

    /** @return array<string, mixed> */
    public function tag(Tray $tray): array
    {
        $stage = $this->status->stage($tray);
        $steps = $tray->steps();
        $last = end($steps);

        return [
            'number' => $tray->number, 'customer' => $tray->customer, 'stage' => $stage->value, 'stage_place' => $stage->place(), 'closed' => null !== $tray->closedAt(),
            'waits' => $this->status->waits($tray, $stage), 'changed_at' => Time::iso($last instanceof Step ? $last->at : $tray->openedAt),
            'phones' => array_map(fn ($phone): array => ['tag' => $phone->tag, 'role' => $phone->role()->value, 'live' => $this->phones->live($phone->serial, $tray->app)], $tray->phones()),
        ];
    }

    /** @return array<string, mixed> */
    public function whole(Tray $tray): array
    {
        $backup = $this->files->backup($tray);
        $run = $this->runs->latest($tray);

        return [
            ...$this->tag($tray), 'contact' => $tray->contact, 'opened_at' => Time::iso($tray->openedAt), 'opened_by' => $tray->openedBy,
            'steps' => array_map(static fn (Step $step): array => ['stage' => $step->stage->value, 'at' => Time::iso($step->at), 'by' => $step->by, 'text' => $step->text], $tray->steps()),
            'run' => null === $run ? null : self::run($run),
            'backup' => null === $backup ? null : [
                'id' => $backup->id, 'taken_at' => Time::iso($backup->takenAt), 'account' => $backup->account, 'conversations' => $backup->conversations, 'messages' => $backup->messages,
                'attachments' => $backup->attachments, 'attachments_absent' => $backup->attachmentsAbsent, 'lost' => $backup->lost, 'attachment_bytes' => $backup->attachmentBytes, 'newest_at' => Time::ofMilliseconds($backup->newestAt),
            ],
            'rehearsal' => $this->files->rehearsed($tray)?->toArray(),
            'arrival' => is_file($this->files->arrival($tray)) ? (new Result($this->files->arrival($tray)))->totals()->toArray() : null,
        ];
    }

    /** @return array<string, mixed> */
    private static function run(Run $run): array
    {
        return [
            'id' => $run->id, 'kind' => $run->kind->value, 'state' => $run->state()->value, 'trouble' => $run->trouble(), 'asked_at' => Time::iso($run->askedAt), 'asked_by' => $run->askedBy,
            'finished_at' => null === $run->finishedAt() ? null : Time::iso($run->finishedAt()), 'progress' => TrayStatus::progress($run),
        ];
    }
}
