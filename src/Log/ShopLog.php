<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

use Doctrine\Bundle\DoctrineBundle\Attribute\AsDoctrineListener;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\Events;
use Symfony\Component\Clock\ClockInterface;

/** Who saw and did what in the shop. */
#[AsDoctrineListener(Events::postFlush)]
#[AsDoctrineListener(Events::onClear)]
final class ShopLog
{
    /** @var list<array{string, string, int|null, array<string, string|int>}> */
    private array $waiting = [];

    public function __construct(
        private readonly Connection $connection,
        private readonly LogChain $chain,
        private readonly ClockInterface $clock,
    ) {
    }

    /**
     * Stored at once, or with the caller's transaction.
     *
     * @param array<string, string|int> $params
     */
    public function note(string $by, string $act, ?int $tray = null, array $params = []): void
    {
        $this->connection->transactional(function () use ($by, $act, $tray, $params): void {
            ['id' => $id, 'before' => $before] = $this->chain->end();
            $at = $this->clock->now()->format('Y-m-d H:i:s');
            $json = json_encode($params, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
            $hash = LogChain::hash($before, new LogLine($id, $at, $by, $act, $tray, $json));
            $this->connection->insert('log_entry', [
                'id' => $id, 'at' => $at, 'done_by' => $by, 'act' => $act, 'tray_number' => $tray, 'params' => $json,
                'hash' => $hash, 'seal' => $this->chain->seal($hash),
            ]);
        });
    }

    /**
     * Stored together with the records that the caller has changed and will flush: a worker that is killed before has
     * done neither.
     *
     * @param array<string, string|int> $params
     */
    public function noteWithFlush(string $by, string $act, ?int $tray, array $params): void
    {
        $this->waiting[] = [$by, $act, $tray, $params];
    }

    public function postFlush(): void
    {
        $waiting = $this->waiting;
        $this->waiting = [];
        foreach ($waiting as $entry) {
            $this->note(...$entry);
        }
    }

    /** What was changed in memory alone is forgotten, and so is what tells of it. */
    public function onClear(): void
    {
        $this->waiting = [];
    }
}
