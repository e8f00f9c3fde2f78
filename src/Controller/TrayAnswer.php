<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Records;
use Geschenk\App\View\TrayView;

/** A tray as it stands at one moment: what reads and changes of trays answer with. */
final readonly class TrayAnswer
{
    public function __construct(private Records $records, private Trays $trays, private TrayView $view)
    {
    }

    public function of(int $number, int $status = 200): JsonAnswer
    {
        $tray = $this->records->look(fn (): array => $this->view->whole($this->trays->get($number)));

        return new JsonAnswer($tray, $status);
    }
}
