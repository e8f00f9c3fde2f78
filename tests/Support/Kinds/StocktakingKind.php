<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Kinds;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Run;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfShop;
use Geschenk\App\Runs\Undone;
use Geschenk\Core\Progress;

/** A kind of run of somebody else's that is of the shop: it counts the backups that the shop has, one by one. */
final class StocktakingKind implements KindOfShop
{
    /** @var array<string, list<string>> ids of the backups that each run has counted, by the run's id */
    public static array $counted = [];

    /** Called behind each, as somebody would who does something meanwhile. */
    public static ?\Closure $meanwhile = null;

    public function __construct(private readonly EntityManagerInterface $entities)
    {
    }

    public static function name(): string
    {
        return 'stocktaking';
    }

    public function ensureMayBegin(): void
    {
    }

    public function take(Run $run, Asked $asked): void
    {
        self::$counted[$run->id] ??= [];
    }

    public function ensurePossible(Run $run): void
    {
    }

    public function do(Run $run, Progress $progress): void
    {
        $backups = $this->entities->getRepository(Backup::class)->findBy([], ['counter' => 'ASC']);
        $progress->phase('reading', count($backups));
        foreach ($backups as $backup) {
            if (!in_array($backup->id, self::$counted[$run->id], true)) {
                self::$counted[$run->id][] = $backup->id;
            }
            null === self::$meanwhile ?: (self::$meanwhile)();
            $progress->advance(1);
        }
    }

    public function undo(Run $run): Undone
    {
        $removed = count(self::$counted[$run->id] ?? []);
        unset(self::$counted[$run->id]);

        return new Undone($removed);
    }
}
