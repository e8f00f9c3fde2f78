<?php

declare(strict_types=1);

namespace Geschenk\App\Work;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\Standing\LackingPoint;

/** What several kinds of runs ask of a phone before they may begin. */
final readonly class Guards
{
    public function __construct(private Phones $phones)
    {
    }

    /** @throws Refusal */
    public function ensurePlugged(TrayPhone $phone): void
    {
        if (true !== $this->phones->state($phone->serial)?->plugged) {
            throw Refusal::because('plug_in_first', ['tag' => $phone->tag]);
        }
    }

    /**
     * While a number is half registered nothing is written to the messenger, and nothing of it checked.
     *
     * @throws Refusal
     */
    public function ensureSettled(Move $move): void
    {
        $state = $this->phones->state($move->to()->serial)?->app($move->app);
        if (null !== $state?->signUp) {
            throw Refusal::because('number_under_way', ['name' => $state->name, 'tag' => $move->to()->tag]);
        }
    }

    /**
     * Behind the hand-over the phone may be somebody else's affair by now.
     *
     * @throws Refusal
     */
    public function ensureNobodyElseHas(Tray $tray, string $serial): void
    {
        $other = $this->phones->inUse([$serial])[$serial] ?? $tray->number;
        if ($other !== $tray->number) {
            throw Refusal::because('in_other_tray', ['serial' => $serial, 'tray' => $other]);
        }
    }

    /** @throws Refusal */
    public static function ensureReady(?LackingPoint $lacking): void
    {
        if (null !== $lacking) {
            throw Refusal::because('not_ready', [
                'tag' => $lacking->phone->tag, 'point' => $lacking->point->variant, ...$lacking->point->params,
            ]);
        }
    }

    /** @throws Refusal behind the restore */
    public static function ensureNotRestored(Move $move): void
    {
        if ($move->bringing()->isInPlace()) {
            throw Refusal::because('restored_already');
        }
    }
}
