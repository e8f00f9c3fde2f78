<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

/** Which move is meant, as whoever asks has seen it. */
final readonly class MoveAt
{
    /**
     * @param int         $tray  its number
     * @param int         $place of the move in its tray
     * @param string|null $after newest run of the move when it was asked for ("none" without one): where there is
     *                           another by now, nothing is done. Null asks whatever there is.
     */
    public function __construct(public int $tray, public int $place, public ?string $after = null)
    {
    }
}
