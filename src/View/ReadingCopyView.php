<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Http\Time;

/** A copy that was taken home, as it is listed at its backup: what left the shop, and nothing that anybody wrote. */
final readonly class ReadingCopyView
{
    public function __construct(private RunView $runs)
    {
    }

    /**
     * @param Run|null $run null where it is gone
     *
     * @return array<string, mixed>
     */
    public function of(ReadingCopy $copy, ?Run $run): array
    {
        $madeAt = $copy->madeAt();
        $sums = $copy->sums();

        return [
            'id' => $copy->id, 'forms' => $copy->forms, 'packing' => $copy->packing, 'is_locked' => $copy->isLocked,
            'is_all' => $copy->selected()->isAll(), 'stick' => $copy->stickLabel, 'name' => $copy->name(),
            'asked_at' => Time::iso($copy->askedAt), 'asked_by' => $copy->askedBy,
            'made_at' => null === $madeAt ? null : Time::iso($madeAt), 'files' => $sums['files'] ?? null,
            'bytes' => $sums['bytes'] ?? null, 'sha256' => $sums['sha256'] ?? null,
            'spoilt' => $sums['spoilt'] ?? 0,
            'run' => null === $run || null !== $madeAt ? null : $this->runs->of($run, $run->acts()),
        ];
    }
}
