<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\HandOver;

use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Tray\Standing\TrayReadiness;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Phone\Role;

/**
 * What is still open before a tray is handed over: protections that are not switched back, a messenger that was
 * not opened, eyes that did not compare, a number. Nothing of it holds the hand-over up, and none goes unseen.
 *
 * @phpstan-type Open array{id: string, tag: string, words: string, params: array<string, string|int>}
 */
final readonly class StillOpen
{
    public function __construct(
        private Switched $switched,
        private TrayReadiness $readiness,
        private Phones $phones,
        private Formats $formats,
    ) {
    }

    /** @return list<Open> each under an id that says what it is and where */
    public function of(Tray $tray): array
    {
        if (null !== $tray->closedAt()) {
            return [];
        }
        $open = [];
        foreach ($this->switched->of($tray) as $seen) {
            if (!$seen->isBack()) {
                $open[] = [
                    'id' => "switched $seen->code $seen->app {$seen->phone->tag}", 'tag' => $seen->phone->tag,
                    'words' => 'switched.'.$seen->code, 'params' => [
                        'back' => 'no', 'earlier' => $seen->earlier,
                        'name' => $this->formats->apps()[$seen->app]->edition ?? $seen->app,
                    ],
                ];
            }
        }
        foreach ($tray->has(Role::Gives) ? $tray->moves() : [] as $move) {
            foreach ($move->told() as $told) {
                if ($told->isOpen()) {
                    $open[] = [
                        'id' => "told $told->step $move->app", 'tag' => $tray->phone(Role::Gives)->tag,
                        'words' => "point.{$told->step}_undone.short", 'params' => ['edition' => $move->edition],
                    ];
                }
            }
        }
        foreach ($tray->onlyBacksUp() ? [] : $tray->moves() as $move) {
            $tag = $tray->phone(Role::Receives)->tag;
            foreach ($this->readiness->afterRestore($move) as $point) {
                if (Point::READY !== $point->status) {
                    $open[] = [
                        'id' => "$point->id $move->app", 'tag' => $tag, 'words' => "point.$point->variant.short",
                        'params' => $point->params,
                    ];
                }
            }
            $bringing = $move->bringing();
            if (null !== $bringing->check() && count($bringing->eyes()) < count(EyeCheck::POINTS)) {
                $open[] = [
                    'id' => "eyes $move->app", 'tag' => $tag, 'words' => 'hand.eyes_open',
                    'params' => ['edition' => $move->edition],
                ];
            }
        }

        return $open;
    }

    /** Whether a number is being registered in an app on a phone: nothing is done to it until that is over. */
    public function isSigningUp(string $serial, string $app): bool
    {
        return null !== $this->phones->state($serial)?->app($app)?->signUp;
    }
}
