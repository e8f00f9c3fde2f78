<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Entity\Run;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Stage;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Files\Disk;
use Geschenk\Core\Files\Folder;
use Geschenk\Core\Phone\PhoneChats;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\Role;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;

/** The arrival check: reads the receiving phone back to the last byte and compares with what was meant to go there. */
final class CheckJob extends PhoneJob
{
    public function __construct(PhoneDirectory $phones, private readonly PhoneChats $reader, private readonly TrayFiles $files, private readonly RunSheet $sheet)
    {
        parent::__construct($phones);
    }

    public static function kind(): string
    {
        return RunKind::Check->value;
    }

    public function do(Run $run, Progress $progress): void
    {
        $tray = $run->tray;
        $readBack = $this->files->readBack($tray);
        Folder::remove($readBack);
        $this->reader->read($this->link($run), $tray->app, $readBack, true, $progress);
        Disk::sync($readBack);
        $totals = (new Comparison(new ChatStore($this->files->expected($tray)), new ChatStore($readBack)))->run($this->files->arrival($tray), $progress)->totals();
        $this->sheet->note($tray, Stage::Check, $run->askedBy, sprintf(
            'Read back from phone %s: %s arrived, %s changed as listed, %s left out, %s missing%s',
            $tray->phone(Role::Receives)->tag, number_format($totals->arrived), number_format($totals->changed), number_format($totals->leftOut), number_format($totals->missing),
            $totals->extra > 0 ? sprintf(', %s more than expected', number_format($totals->extra)) : '',
        ));
    }

    protected function role(): Role
    {
        return Role::Receives;
    }
}
