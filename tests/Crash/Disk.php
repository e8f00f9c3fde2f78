<?php

declare(strict_types=1);

namespace Geschenk\Tests\Crash;

use Geschenk\Core\Files\Durable\Folder;

/**
 * A disk that forgets what nobody synced: bytes of files without a sync, names in folders without one.
 *
 * @phpstan-import-type Op from DiskLog
 */
final class Disk
{
    /** Nothing that was not synced is there. */
    public const BARE = 'bare';
    /** The names are there, and the bytes only as far as they were synced: files of no length. */
    public const NAMES = 'names';
    /** The names are there, and some of the bytes. */
    public const TORN = 'torn';

    private readonly Node $root;

    /** What is below a folder now is on the disk. */
    public function __construct(private readonly string $home)
    {
        $this->root = self::load($home);
    }

    /** @param Op $op */
    public function apply(array $op): void
    {
        $node = $this->find($op['path']);
        [$folder, $name] = [$this->find(dirname($op['path'])), basename($op['path'])];
        switch ($op['do']) {
            case 'create':
                if (null !== $folder && null === $node) {
                    $folder->children[$name] = new Node(false);
                }
                break;
            case 'folder':
                if (null !== $folder) {
                    $folder->children[$name] = new Node(true);
                }
                break;
            case 'size':
                if (null !== $node && strlen($node->content(count($node->pending))) !== ($op['size'] ?? 0)) {
                    $node->pending[] = [$op['size'] ?? 0, null];
                }
                break;
            case 'write':
                if (null !== $node) {
                    $node->pending[] = [$op['at'] ?? 0, $op['bytes'] ?? ''];
                }
                break;
            case 'sync':
                $node?->sync();
                break;
            case 'sync_all':
                $this->root->syncAll();
                break;
            case 'remove':
                if (null !== $folder) {
                    unset($folder->children[$name]);
                }
                break;
            default:
                $to = $op['to'] ?? '';
                $target = $this->find(dirname($to));
                if (null !== $folder && null !== $target && null !== $node) {
                    $other = $target->children[basename($to)] ?? null;
                    $target->children[basename($to)] = $node;
                    if ('exchange' === $op['do'] && null !== $other) {
                        $folder->children[$name] = $other;
                    } elseif ('rename' === $op['do']) {
                        unset($folder->children[$name]);
                    }
                }
        }
    }

    /** Lays out what is found when the power comes back. */
    public function cutPower(string $how, \Random\Randomizer $chance): void
    {
        Folder::remove($this->home);
        $seen = [];
        self::lay($this->root, $this->home, $how, $chance, $seen);
    }

    /** @param array<int, true> $seen folders: one can't be in two places */
    private static function lay(Node $node, string $path, string $how, \Random\Randomizer $chance, array &$seen): void
    {
        if ($node->isFolder) {
            if (isset($seen[spl_object_id($node)])) {
                return;
            }
            $seen[spl_object_id($node)] = true;
            Folder::make($path);
            foreach (self::BARE === $how ? $node->keptChildren : $node->children as $name => $child) {
                self::lay($child, $path.'/'.$name, $how, $chance, $seen);
            }

            return;
        }
        // SQLite makes this one anew; it is written through memory, where nobody sees it.
        if (!str_ends_with($path, '-shm')) {
            file_put_contents(
                $path, $node->content(self::TORN === $how ? $chance->getInt(0, count($node->pending)) : 0),
            );
            // As after a while: a phone's files of this very moment would be looked at twice.
            touch($path, time() - 3600);
        }
    }

    private function find(string $path): ?Node
    {
        if ($path === $this->home) {
            return $this->root;
        }
        $node = $this->root;
        foreach (explode('/', substr($path, strlen($this->home) + 1)) as $name) {
            $node = $node->children[$name] ?? null;
            if (null === $node) {
                return null;
            }
        }

        return $node;
    }

    private static function load(string $path): Node
    {
        $node = new Node(is_dir($path));
        if ($node->isFolder) {
            foreach (array_diff(scandir($path) ?: [], ['.', '..']) as $name) {
                $node->children[$name] = self::load($path.'/'.$name);
            }
        } else {
            $node->pending = [[0, (string) file_get_contents($path)]];
        }
        $node->sync();

        return $node;
    }
}
