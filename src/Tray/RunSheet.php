<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Log\LogNames;
use Geschenk\App\Log\ShopLog;
use Psr\Clock\ClockInterface;

/** Notes what was done to a tray, by whom and when: on its run sheet and in the log. */
final readonly class RunSheet
{
    public function __construct(private ShopLog $log, private ClockInterface $clock)
    {
    }

    /**
     * The caller flushes, so that the note and what it tells are stored together.
     *
     * @param string                    $code   under "step" in translations/
     * @param array<string, string|int> $params
     */
    public function note(Tray|Move $of, Stage $stage, string $by, string $code, array $params = []): void
    {
        [$tray, $move] = $of instanceof Move ? [$of->tray, $of] : [$of, null];
        $tray->note(new Step($tray, $move, $stage, $this->clock->now(), $by, $code, $params));
        // Nobody can take a line out of the log: whose tray it is, is told by the tray.
        $ofCustomer = isset($params[LogNames::CUSTOMER]) ? [LogNames::OF_TRAY => LogNames::CUSTOMER] : [];
        unset($params[LogNames::CUSTOMER]);
        $this->log->noteWithFlush($by, 'step.'.$code, $tray->number, $ofCustomer + $params);
    }
}
