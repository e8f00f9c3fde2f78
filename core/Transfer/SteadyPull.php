<?php

declare(strict_types=1);

namespace Geschenk\Core\Transfer;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\UnusableInput;

/**
 * Pulls what an app keeps in a folder on a phone until chats and files fit together: a message may come in while we are
 * at it.
 */
final readonly class SteadyPull
{
    /** How often a phone may change under our hands until somebody has to close the messenger. */
    private const ROUNDS = 5;
    /** Files that are waited for together. */
    private const MANY = 20;

    /**
     * @param string                  $above    folder below the app's data that is pulled; with its slash, or empty
     * @param \Closure(string): bool $isWanted whether a file comes along, by its path below that folder; what holds the
     *                                          chats is pulled apart
     */
    public function __construct(private Fetching $fetching, private string $above, private \Closure $isWanted)
    {
    }

    /**
     * @param callable(): string $mark  differs once what is taken was written to
     * @param callable(callable(int): void): array{
     *     string|ScratchFolder, list<array{path: string, bytes: int, readable: int}>,
     * } $chats pulls what holds the chats, telling bytes as they come: the folder that they lie in, and what of it
     *          could not be read to its end
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses   also when the phone's data changes all the time
     * @throws UnusableInput
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function pull(callable $mark, callable $chats): Fetched
    {
        $progress = $this->fetching->progress;
        $journal = $this->fetching->journal;
        for ($round = 1;; ++$round) {
            $before = $mark();
            $this->list();
            $progress->phase('pulling');
            [$folder, $unreadable] = $chats(static fn (int $bytes) => $progress->advance(0, $bytes));
            $this->pullListed();
            if ($mark() === $before) {
                return new Fetched($folder, [...$unreadable, ...$journal->allUnreadable()], $before);
            }
            if ($round >= self::ROUNDS) {
                throw PhoneRefuses::stillWriting();
            }
            $progress->phase('listing');
        }
    }

    private function list(): void
    {
        $taking = $this->fetching->taking;
        $journal = $this->fetching->journal;
        $journal->begin();
        foreach ($taking->link->files($taking->app) as $file) {
            $path = substr($file->path, strlen($this->above));
            if (str_starts_with($file->path, $this->above) && Folder::staysInside($path) && ($this->isWanted)($path)) {
                $journal->listed($path, $file->bytes, $file->changed);
                $this->fetching->progress->advance(1);
            }
        }
        $journal->commit();
    }

    private function pullListed(): void
    {
        $journal = $this->fetching->journal;
        $progress = $this->fetching->progress;
        $totals = $journal->totals();
        $progress->phase('pulling', $totals['items'], $totals['bytes']);
        $progress->advance($totals['items_done'], $totals['bytes_done']);
        while ([] !== ($waiting = $journal->waiting())) {
            $rows = [];
            try {
                foreach ($waiting as $file) {
                    $rows[] = $this->pullFile($file['path']);
                    $progress->advance(1);
                }
            } finally {
                // All of them are on the disk, with their names, and only then the journal says so.
                $this->note($rows);
            }
        }
    }

    /** @return array{path: string, bytes: int, sha256: string|null, gone: bool} */
    private function pullFile(string $path): array
    {
        $link = $this->fetching->taking->link;
        $app = $this->fetching->taking->app;
        $target = $this->fetching->place->raw().'/'.$path;
        try {
            $pulled = (new Pull(
                $link, $app, fn (int $bytes) => $this->fetching->progress->advance(0, $bytes),
                $this->fetching->journal,
            ))->file($this->above.$path, $target, $this->fetching->place->piece());
        } catch (PhoneRefuses $refusal) {
            if (null !== $link->file($app, $this->above.$path)) {
                throw $refusal;
            }

            // Deleted on the phone since it was listed; the reader will find its row without a file and say so.
            return ['path' => $path, 'bytes' => 0, 'sha256' => null, 'gone' => true];
        }
        if (!$pulled->isWhole && !unlink($target)) {
            throw DiskFailure::at('remove', $target);
        }

        return [
            'path' => $path, 'bytes' => $pulled->bytes, 'sha256' => $pulled->isWhole ? $pulled->sha256 : null,
            'gone' => false,
        ];
    }

    /** @param list<array{path: string, bytes: int, sha256: string|null, gone: bool}> $rows */
    private function note(array $rows): void
    {
        $journal = $this->fetching->journal;
        $this->waitFor(array_column(
            array_filter($rows, static fn (array $row): bool => null !== $row['sha256']), 'path',
        ));
        $journal->begin();
        foreach ($rows as $row) {
            match (true) {
                $row['gone'] => $journal->forget($row['path']),
                null === $row['sha256'] => $journal->unreadable($row['path'], $row['bytes']),
                default => $journal->pulled($row['path'], $row['bytes'], $row['sha256']),
            };
        }
        $journal->commit();
    }

    /**
     * Waits until files that have come are on the disk, with their names. A few are waited for one by one: together
     * means all that anybody has written there.
     *
     * @param list<string> $paths
     */
    private function waitFor(array $paths): void
    {
        $raw = $this->fetching->place->raw();
        if (count($paths) >= self::MANY) {
            Disk::syncTogether($raw);

            return;
        }
        $folders = [];
        foreach ($paths as $path) {
            Disk::sync($raw.'/'.$path);
            for ($folder = dirname($path); '.' !== $folder; $folder = dirname($folder)) {
                $folders[$folder] = $folder;
            }
        }
        foreach ($folders as $folder) {
            Disk::sync($raw.'/'.$folder);
        }
        Disk::sync($raw);
    }
}
