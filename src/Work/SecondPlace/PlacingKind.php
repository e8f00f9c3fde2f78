<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfShop;
use Geschenk\App\Runs\Undone;
use Geschenk\App\SecondPlace\PlaceInUse;
use Geschenk\Core\Progress;

/**
 * Brings the second place up to what the shop keeps: keys that were destroyed and what was erased go there too, what
 * is broken here is mended, what is new or has changed is put there, then records and keys. A share is read back.
 */
final readonly class PlacingKind implements KindOfShop
{
    public function __construct(
        private PlaceInUse $inUse,
        private OurPlace $ours,
        private Placing $placing,
        private EntityManagerInterface $entities,
        private ShopLog $log,
    ) {
    }

    public static function name(): string
    {
        return 'placing';
    }

    public function ensureMayBegin(): void
    {
        $this->inUse->isSet() ?: throw Refusal::because('place_none');
    }

    public function take(Run $run, Asked $asked): void
    {
    }

    public function ensurePossible(Run $run): void
    {
        !YieldsToJobs::isWanted($this->entities->getConnection(), $run->id) ?: throw BenchFirst::now();
    }

    public function do(Run $run, Progress $progress): void
    {
        $quiet = new YieldsToJobs($progress, $this->entities->getConnection(), $run->id);
        $place = $this->ours->begun();
        // Keys first: what is left there of what was erased opens nothing.
        $this->placing->putKeys($place);
        $removed = $this->placing->removeGone($place, $progress, $quiet);
        $mended = $this->placing->mend($quiet);
        $placed = $this->placing->putWhatChanged($place, $progress, $quiet);
        $this->placing->putRecords($place, $quiet);
        $this->placing->putKeys($place);
        [$read, $broken] = $this->placing->readShare($place, $progress, $quiet);
        $this->placing->complete();
        $this->log->note('bench', 'placed', null, [
            'count' => $placed, 'removed' => $removed, 'mended' => $mended, 'read' => $read, 'broken' => $broken,
        ]);
    }

    /** What lies there stays as it is; what was begun is gone on with by the next. */
    public function undo(Run $run): Undone
    {
        return new Undone();
    }
}
