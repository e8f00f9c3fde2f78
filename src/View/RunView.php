<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunAct;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;

/** A run as the API shows it, whatever it is of. */
final readonly class RunView
{
    public function __construct(private ProgressView $progress, private Words $words)
    {
    }

    /**
     * @param list<RunAct> $may what may be done about it
     *
     * @return array<string, mixed>
     */
    public function of(Run $run, array $may): array
    {
        $finishedAt = $run->finishedAt();
        $trouble = $run->trouble();
        $offer = $run->offer();

        return [
            'id' => $run->id, 'kind' => $run->kind, 'tag' => $run->phone()?->tag, 'state' => $run->state()->value,
            'trouble' => null === $trouble ? null : $this->words->failure($trouble, $run->troubleParams()),
            'may' => array_map(static fn (RunAct $act): string => $act->value, $may),
            'asked_at' => Time::iso($run->askedAt), 'asked_by' => $run->askedBy(),
            'finished_at' => null === $finishedAt ? null : Time::iso($finishedAt),
            'offer' => null === $offer ? null : [
                'id' => $offer->id(), 'way' => $offer->way, 'made_at' => Time::ofSeconds($offer->madeAt),
                'lock' => $offer->lock?->value,
            ],
            'progress' => $this->progress->of($run),
        ];
    }
}
