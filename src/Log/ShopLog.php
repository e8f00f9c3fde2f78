<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

use Doctrine\DBAL\Connection;
use Symfony\Component\Clock\ClockInterface;

/** Who saw and did what in the shop. */
final readonly class ShopLog
{
    public function __construct(
        private Connection $connection,
        private LogChain $chain,
        private ClockInterface $clock,
    ) {
    }

    /**
     * Stored at once, or with the caller's transaction: the entry and what it tells are stored together.
     *
     * @param array<string, string|int> $params
     */
    public function note(string $by, string $act, ?int $tray = null, array $params = []): void
    {
        $this->connection->transactional(function () use ($by, $act, $tray, $params): void {
            ['id' => $id, 'before' => $before] = $this->chain->end();
            $at = $this->clock->now()->format('Y-m-d H:i:s');
            $json = json_encode($params, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
            $this->connection->insert('log_entry', [
                'id' => $id, 'at' => $at, 'done_by' => $by, 'act' => $act, 'tray_number' => $tray, 'params' => $json,
                'hash' => LogChain::hash($before, $id, $at, $by, $act, $tray, $json),
            ]);
        });
    }
}
