<?php

declare(strict_types=1);

namespace Geschenk\App\Work\PutBack;

use Geschenk\App\Contacts\KeptBook;
use Geschenk\App\Contacts\Names;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Work\Guards;
use Geschenk\App\Work\SafetyCopies;
use Geschenk\App\Work\WritingKind;
use Geschenk\Core\Files\Content\Contents;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\Staging;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\PutBack;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\Restorer;
use Geschenk\Core\Transfer\RestoreRefused;
use Psr\Clock\ClockInterface;

/**
 * Puts the receiving phone back to what it held before it was written to, to the last byte, and reads it back. What has
 * come since is kept first, like everything that is written over.
 */
final class PutBackKind extends WritingKind
{
    public function __construct(
        PhoneDirectory $phones,
        Restorer $restorer,
        SafetyCopies $copies,
        MoveFiles $files,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
        private readonly Names $names,
        private readonly Guards $guards,
    ) {
        parent::__construct($phones, $restorer, $copies, $files);
    }

    public static function name(): string
    {
        return 'put_back';
    }

    public function stage(): Stage
    {
        return Stage::Restore;
    }

    public function phases(Move $move): array
    {
        return [
            Phase::safetyCopy(), new Phase('staging', Phase::KEPT, true),
            new Phase('verifying', Phase::KEPT, true), new Phase('reading_back', Phase::KEPT, true),
        ];
    }

    public function isWayBack(): bool
    {
        return true;
    }

    public function ensureItsTurn(Move $move): void
    {
        if (!$move->bringing()->isOnPhone() || null === $move->bringing()->wayBack()) {
            throw Refusal::because('nothing_to_put_back');
        }
        if (!$move->tray->keepsChats()) {
            throw Refusal::because('erased_already');
        }
    }

    public function ensureMayBegin(Move $move): void
    {
        $receiving = $move->to();
        $this->guards->ensureNobodyElseHas($move->tray, $receiving->serial);
        $this->guards->ensureSettled($move);
        $this->guards->ensurePlugged($receiving);
    }

    public function ensureAgreed(Move $move, Asked $asked): void
    {
        RestorePermit::toPutBack(
            new ReceiverSeen('', copied: ''), new AgreedTo($move->to()->tag, $asked->confirmedTag ?? ''),
        );
    }

    public function do(Run $run, Progress $progress): void
    {
        $move = $run->move();
        $link = $this->link($run);
        $before = $move->bringing()->wayBack() ?? throw new \LogicException('There is nothing to put back.');
        $progress->phase('verifying');
        $kept = $this->files->verified($before);
        $raw = $kept->raw();
        $scratch = ScratchFolder::inMemory();
        $list = $scratch->path.'/put-back.manifest';
        $manifest = Manifest::make($raw, $list, static fn (int $bytes) => $progress->advance(0));
        // Before the messenger opens it.
        $finish = function () use ($run, $before, $link, $manifest, $progress): void {
            PutBack::check($link, $run->move()->app, $manifest, $progress);
            $this->takeNamesOut($run, $before, $link, $progress);
        };
        if ($link->swapped($move->app) !== $run->id) {
            $this->bring($run, $raw, $manifest, $finish, $progress);
        } else {
            $finish();
            $link->restart();
        }
        $move->putBack($this->clock->now());
        $this->sheet->note($move, Stage::Restore, $run->askedBy(), 'put_back', [
            'tag' => $move->to()->tag, 'files' => $manifest->files, 'messages' => $before->messages,
        ]);
    }

    /** The names that were added with what is put back now; what else the address book holds stays. */
    private function takeNamesOut(Run $run, Backup $before, PhoneLink $link, Progress $progress): void
    {
        $move = $run->move();
        $kept = KeptBook::of($this->copies->book($before));
        if (null === $kept) {
            return;
        }
        $others = [];
        foreach ($move->tray->moves() as $other) {
            $there = $other->bringing();
            $backup = $there->backup();
            $isThere = $there->isOnPhone() && null !== $there->namesBrought();
            if ($other !== $move && null !== $backup && $isThere) {
                try {
                    $others[] = $this->shown($backup, $there->wayBack());
                } catch (Refusal) {
                    // A backup of the other account's that is spoilt holds up no way back, and costs it no names.
                    $this->sheet->note($move, Stage::Restore, $run->askedBy(), 'names_unread', [
                        'tag' => $move->to()->tag,
                    ]);

                    return;
                }
            }
        }
        $out = $this->names->takeOut(
            new Staging($link, Names::APP, $run->id), $kept, $this->copies->bookOf($run), $others, $progress,
        );
        $this->sheet->note(
            $move, Stage::Restore, $run->askedBy(), null === $out ? 'names_stay' : 'names_taken_out',
            ['tag' => $move->to()->tag, 'taken' => $out['taken'] ?? 0, 'stay' => $out['stay'] ?? 0],
        );
        if (0 < ($out['needed'] ?? 0)) {
            $this->sheet->note($move, Stage::Restore, $run->askedBy(), 'names_needed', [
                'tag' => $move->to()->tag, 'count' => $out['needed'],
            ]);
        }
    }

    /** @param callable(): void $finish done before the phone is started anew */
    private function bring(Run $run, Contents $raw, Manifest $manifest, callable $finish, Progress $progress): void
    {
        $link = $this->link($run);
        $app = $run->move()->app;
        $now = $this->copies->take($run, $link, $progress);
        try {
            $staged = $this->restorer->stage(
                $this->permit($run, $link, $now), new Staging($link, $app, $run->id), $raw, $manifest, $progress,
            );
            $permit = $this->permit($run, $link, $now);
        } catch (RestoreRefused $refusal) {
            $link->dropStage($app, $run->id);
            throw $refusal;
        }
        $this->restorer->swapIn($permit, $staged, $link, $progress, $finish);
    }

    private function permit(Run $run, PhoneLink $link, Backup $now): RestorePermit
    {
        return RestorePermit::toPutBack(
            new ReceiverSeen($link->mark($run->move()->app), copied: $this->copies->mark($now)),
            new AgreedTo($run->move()->to()->tag, $run->confirmedTag ?? ''),
        );
    }
}
