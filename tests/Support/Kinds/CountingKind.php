<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Kinds;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Work\PhoneKind;
use Geschenk\Core\Progress;

/** A kind of run of somebody else's: it counts to five at the receiving phone, and nothing in src/ knows of it. */
final class CountingKind extends PhoneKind
{
    public const TO = 5;

    /** @var array<string, int> how far each run has counted, by its id: it keeps that where others have files */
    public static array $counted = [];

    /** @var array<string, list<int>> what was said by the run's present worker */
    public static array $said = [];

    /** What happens while it counts. */
    public static ?\Closure $meanwhile = null;

    public static function name(): string
    {
        return 'counting';
    }

    public function stage(): Stage
    {
        return Stage::Check;
    }

    public function phases(Move $move): array
    {
        return [new Phase('reading', Phase::MESSAGES)];
    }

    public function isWayBack(): bool
    {
        return true;
    }

    public function take(Run $run, Asked $asked): void
    {
        self::$said[$run->id] = [];
    }

    public function do(Run $run, Progress $progress): void
    {
        $progress->phase('reading', self::TO);
        for ($n = (self::$counted[$run->id] ?? 0) + 1; $n <= self::TO; ++$n) {
            null === self::$meanwhile ?: (self::$meanwhile)();
            self::$said[$run->id][] = $n;
            self::$counted[$run->id] = $n;
            $progress->advance(1);
        }
    }

    public function undo(Run $run): Undone
    {
        $removed = self::$counted[$run->id] ?? 0;
        unset(self::$counted[$run->id]);

        return new Undone($removed);
    }
}
