<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

use Doctrine\DBAL\Connection;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * Each entry's hash covers the one before, so that one which was changed, taken out or put in is found. It is SHA-256
 * over the JSON list of: the hash before ("" at first), number, time (UTC), who, act, tray number, parameters as they
 * are stored.
 *
 * @phpstan-type StoredEntry array{
 *     id: int, at: string, done_by: string, act: string, tray_number: int|null, params: string, hash: string,
 *     seal: string|null,
 * }
 */
final readonly class LogChain
{
    public const CHANGED = 'changed';
    public const MISSING = 'missing';

    /** @var non-empty-list<string> of the installation, the one that seals first */
    private array $keys;

    /** @param string $before the secret that this installation had before */
    public function __construct(
        private Connection $connection,
        #[Autowire('%kernel.secret%')] #[\SensitiveParameter]
        string $secret,
        #[Autowire('%env(APP_SECRET_BEFORE)%')] #[\SensitiveParameter]
        string $before = '',
    ) {
        $this->keys = array_map(
            static fn (string $one): string => hash_hkdf('sha256', $one, 32, 'seals of the log'),
            '' === $before ? [$secret] : [$secret, $before],
        );
    }

    /** Whoever has the records alone can compute every hash anew, and none of these. */
    public function seal(string $hash): string
    {
        return hash_hmac('sha256', $hash, $this->keys[0]);
    }

    private function isSealOf(?string $seal, string $hash): bool
    {
        foreach ($this->keys as $key) {
            if (hash_equals(hash_hmac('sha256', $hash, $key), (string) $seal)) {
                return true;
            }
        }

        return false;
    }

    public static function hash(string $before, LogLine $line): string
    {
        return hash('sha256', json_encode(
            [$before, $line->id, $line->at, $line->by, $line->act, $line->tray, $line->params],
            \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
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
        [$id, $hash] = is_array($last) ? [$last['id'], $last['hash']] : [0, ''];

        // A counter that somebody has set back gives no number twice.
        return [
            'id' => max($this->given(), is_int($id) ? $id : 0) + 1, 'before' => is_string($hash) ? $hash : '',
        ];
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
        $isSealed = false;
        foreach ($this->entries() as $entry) {
            if ($entry['id'] !== $next) {
                return ['id' => min($next, $entry['id']), 'fault' => self::MISSING];
            }
            if (!self::isOfItsTypes($entry)) {
                return ['id' => $next, 'fault' => self::CHANGED];
            }
            $hash = self::hash($before, new LogLine(
                $entry['id'], $entry['at'], $entry['done_by'], $entry['act'], $entry['tray_number'], $entry['params'],
            ));
            // Those of before seals came in have none; behind the first that has one all have.
            $isSealed = $isSealed || null !== $entry['seal'];
            if (!hash_equals($hash, $entry['hash']) || ($isSealed && !$this->isSealOf($entry['seal'], $hash))) {
                return ['id' => $entry['id'], 'fault' => self::CHANGED];
            }
            $before = $hash;
            ++$next;
        }

        // As many as were ever given a number, and no other number is kept of them.
        return $next - 1 === $this->given() ? null : ['id' => $next, 'fault' => self::MISSING];
    }

    /** @param string $hash that an entry had when somebody wrote it down elsewhere */
    public function holds(int $id, string $hash): bool
    {
        $found = $this->connection->fetchOne('SELECT hash FROM log_entry WHERE id = ?', [$id]);

        return is_string($found) && hash_equals($found, strtolower($hash));
    }

    /** @param array<string, mixed> $entry as SQLite has it, whatever its columns are declared as */
    private static function isOfItsTypes(array $entry): bool
    {
        $texts = array_intersect_key($entry, ['at' => 0, 'done_by' => 0, 'act' => 0, 'params' => 0, 'hash' => 0]);

        return $texts === array_filter($texts, is_string(...))
            && (null === $entry['tray_number'] || is_int($entry['tray_number']))
            && (null === $entry['seal'] || is_string($entry['seal']));
    }

    /** @return \Generator<int, StoredEntry> in their order, a page in memory at a time */
    public function entries(): \Generator
    {
        for ($last = \PHP_INT_MIN;;) {
            /** @var list<StoredEntry> $page */
            $page = $this->connection->fetchAllAssociative(<<<'SQL'
                SELECT id, at, done_by, act, tray_number, params, hash, seal
                FROM log_entry
                WHERE id > ?
                ORDER BY id
                LIMIT 500
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
