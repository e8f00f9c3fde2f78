<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Merge\MergeReport;

/** What a conversion came to. */
final readonly class Converted
{
    /**
     * @param list<Loss> $losses            what was changed or left out, by rule
     * @param Totals     $totals            of the rehearsal
     * @param int        $attachmentsAbsent that were not there to be converted
     * @param int              $bytes             of all files as they are to lie on the phone
     * @param MergeReport|null $merge             what uniting it with the phone's chats came to
     */
    public function __construct(
        public array $losses,
        public Totals $totals,
        public int $attachmentsAbsent,
        public int $bytes,
        public ?MergeReport $merge = null,
    ) {
    }
}
