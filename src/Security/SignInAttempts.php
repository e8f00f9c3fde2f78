<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Psr\Cache\CacheItemPoolInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/** Slows down guessing: after five wrong passwords a name rests for a minute. */
final readonly class SignInAttempts
{
    private const ALLOWED = 5;
    private const REST_SECONDS = 60;

    public function __construct(#[Autowire(service: 'cache.app')] private CacheItemPoolInterface $cache)
    {
    }

    public function isResting(string $username): bool
    {
        return $this->count($username) >= self::ALLOWED;
    }

    public function failed(string $username): void
    {
        $item = $this->cache->getItem(self::key($username));
        $item->set($this->count($username) + 1)->expiresAfter(self::REST_SECONDS);
        $this->cache->save($item);
    }

    public function succeeded(string $username): void
    {
        $this->cache->deleteItem(self::key($username));
    }

    private function count(string $username): int
    {
        $count = $this->cache->getItem(self::key($username))->get();

        return is_int($count) ? $count : 0;
    }

    private static function key(string $username): string
    {
        return 'sign_in.'.hash('sha256', mb_strtolower($username));
    }
}
