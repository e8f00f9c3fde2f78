<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

/**
 * The files of an app that hold the chats themselves, by their paths below the app's data folder: databases and their
 * write-ahead logs, journals, shards. What is not among them belongs to messages.
 */
final readonly class ChatFiles
{
    /** More files than this are not a messenger's. */
    public const MOST = 10_000;

    /** @var non-empty-list<string> */
    private array $patterns;

    /**
     * @param string $first     without a file of this pattern there are no chats; patterns are those of fnmatch(3), and
     * "*" stays within a folder
     * @param string ...$others in the order in which to pull: a write-ahead log comes after its database
     */
    public function __construct(string $first, string ...$others)
    {
        $this->patterns = [$first, ...array_values($others)];
    }

    /** Whether a file is one of them. */
    public function hold(string $path): bool
    {
        foreach ($this->patterns as $pattern) {
            if (fnmatch($pattern, $path, \FNM_PATHNAME | \FNM_PERIOD)) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string>|null all paths that there can be; null where a pattern stands for any number of files */
    public function named(): ?array
    {
        foreach ($this->patterns as $pattern) {
            if (strlen($pattern) !== strcspn($pattern, '*?[\\')) {
                return null;
            }
        }

        return $this->patterns;
    }

    /**
     * @param list<string> $paths of whatever files there are
     *
     * @return list<string> those that hold chats, in the order in which to pull; none without one of the first pattern
     */
    public function among(array $paths): array
    {
        $found = [];
        sort($paths, \SORT_STRING);
        foreach ($this->patterns as $n => $pattern) {
            foreach ($paths as $path) {
                if (fnmatch($pattern, $path, \FNM_PATHNAME | \FNM_PERIOD)) {
                    $found[$path] = $path;
                }
            }
            if (0 === $n && [] === $found) {
                return [];
            }
        }

        return array_values($found);
    }

    /** @return list<string> those that lie in a folder on this computer, in the order in which to pull */
    public function in(string $folder): array
    {
        $root = addcslashes($folder, '*?[]\\').'/';
        $paths = [];
        foreach ($this->patterns as $pattern) {
            foreach (glob($root.$pattern) ?: [] as $path) {
                if (is_file($path)) {
                    $paths[] = substr($path, strlen($folder) + 1);
                }
            }
        }

        return $this->among(array_values(array_unique($paths)));
    }
}
