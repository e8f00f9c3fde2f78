<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

use Doctrine\DBAL\Connection;

/**
 * Each entry's hash covers the one before, so that one which was changed, taken out or put in is found. It is SHA-256
 * over the JSON list of: the hash before ("" at first), number, time (UTC), who, act, tray number, parameters as they
 * are stored.
 *
 * @phpstan-type StoredEntry array{
 *     id: int, at: string, done_by: string, act: string, tray_number: int|null, params: string, hash: string,
 * }
 */
final readonly class LogChain
{
    public const CHANGED = 'changed';
    public const MISSING = 'missing';

    public function __construct(private Connection $connection)
    {
    }

    public static function hash(
        string $before,
        int $id,
        string $at,
        string $by,
        string $act,
        ?int $tray,
        string $params,
    ): string {
        return hash('sha256', json_encode(
            [$before, $id, $at, $by, $act, $tray, $params], \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
        ));
    }

    /**
     * In the caller's transaction.
     *
     * @return array{id: int, before: string} number of the next entry and the hash that it covers
     */
    public function end(): array
    {
        $last = $this->connection->fetchAssociative('SELECT id, hash FROM log_entry ORDER BY id DESC LIMIT 1');
        $hash = is_array($last) ? $last['hash'] : '';

        return ['id' => $this->given() + 1, 'before' => is_string($hash) ? $hash : ''];
    }

    /**
     * @return array{id: int, fault: string}|null the first entry that is not as it was written; null when all are
     *
     * @phpstan-impure
     */
    public function firstFault(): ?array
    {
        $before = '';
        $next = 1;
        foreach ($this->entries() as $entry) {
            if ($entry['id'] !== $next) {
                return ['id' => $next, 'fault' => self::MISSING];
            }
            $hash = self::hash(
                $before, $entry['id'], $entry['at'], $entry['done_by'], $entry['act'], $entry['tray_number'],
                $entry['params'],
            );
            if (!hash_equals($hash, $entry['hash'])) {
                return ['id' => $entry['id'], 'fault' => self::CHANGED];
            }
            $before = $hash;
            ++$next;
        }

        return $next > $this->given() ? null : ['id' => $next, 'fault' => self::MISSING];
    }

    /** @return \Generator<int, StoredEntry> in their order, a page in memory at a time */
    public function entries(): \Generator
    {
        for ($last = 0;;) {
            /** @var list<StoredEntry> $page */
            $page = $this->connection->fetchAllAssociative(<<<'SQL'
                SELECT id, at, done_by, act, tray_number, params, hash FROM log_entry WHERE id > ? ORDER BY id LIMIT 500
                SQL, [$last]);
            foreach ($page as $entry) {
                $last = $entry['id'];
                yield $entry;
            }
            if ([] === $page) {
                return;
            }
        }
    }

    /** The highest number that was ever given: SQLite keeps it apart from the rows. */
    private function given(): int
    {
        $given = $this->connection->fetchOne("SELECT seq FROM sqlite_sequence WHERE name = 'log_entry'");

        return is_numeric($given) ? (int) $given : 0;
    }
}
