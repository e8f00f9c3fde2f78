<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone\Rule;

use Geschenk\Core\Phone\AccountAsked;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Situation;

/** A step of a way in that no phone shows: a person tells that it is done and, where it has to be, undone. */
final readonly class ToldStep implements AccountRule
{
    /**
     * @param string                             $name    its words stand in translations/ under "point"; those of its
     *                                                    undoing under the same with "_undone"
     * @param Point::TECHNICIAN|Point::OWNER $who     does it
     * @param bool                               $isLeft whether it leaves something that is undone before the hand-over
     */
    public function __construct(
        public string $name,
        private string $who = Point::OWNER,
        public bool $isLeft = false,
    ) {
    }

    public function judge(Situation $situation, AccountAsked $account): Point
    {
        $isDone = in_array($this->name, $account->told, true);

        return new Point(
            $this->name, Status::of($isDone), $this->who, Point::BLOCKS, $this->name, [], $account->app, true,
        );
    }
}
