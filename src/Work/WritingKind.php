<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Contacts\Shown;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Runs\Undone;
use Geschenk\Core\Phone\Fitness;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Transfer\Restorer;

/** What runs that write to the receiving phone have in common: a safety copy, and a stage named after the run. */
abstract class WritingKind extends PhoneKind
{
    public function __construct(
        PhoneDirectory $phones,
        protected readonly Restorer $restorer,
        protected readonly SafetyCopies $copies,
        protected readonly MoveFiles $files,
    ) {
        parent::__construct($phones);
    }

    public function stages(): bool
    {
        return true;
    }

    public function ensurePossible(Run $run): void
    {
        parent::ensurePossible($run);
        Fitness::ensureSettled($this->link($run)->state(), $run->move()->app);
    }

    /** @param Backup|null $way that the phone is put back to */
    protected function shown(Backup $backup, ?Backup $way): Shown
    {
        return new Shown(
            $this->files->chats($backup), $backup->account, null === $way ? null : $this->copies->book($way),
        );
    }

    public function undo(Run $run): Undone
    {
        $link = $this->link($run);
        $app = $run->move()->app;
        try {
            if ($link->swapped($app) === $run->id) {
                return new Undone(isTooLate: true);
            }
            $bytes = 0;
            foreach ($link->staged($app, $run->id) as $file) {
                $bytes += $file->bytes;
            }
            $link->dropStage($app, $run->id);

            return new Undone($bytes + $this->copies->drop($run));
        } catch (PhoneUnplugged|PhoneRefuses) {
            return new Undone(leftOnPhone: true);
        }
    }
}
