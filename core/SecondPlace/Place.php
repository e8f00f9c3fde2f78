<?php

declare(strict_types=1);

namespace Geschenk\Core\SecondPlace;

/**
 * Somewhere else, where copies of what the shop keeps lie: another disk, another computer. Paths are relative to it,
 * with slashes. Nothing that it answers is trusted: what comes from there opens, or does not count.
 */
interface Place
{
    /** What people call it; nothing of it lets anybody in. */
    public function label(): string;

    /**
     * Whether it is there at all: a disk that is not mounted is an empty folder, and no place.
     *
     * @throws PlaceFailure where it can't be reached
     */
    public function ensureThere(): void;

    /**
     * @return array<string, int> bytes of each file right in a folder, by its name; none where there is no folder
     *
     * @throws PlaceFailure
     */
    public function files(string $folder): array;

    /**
     * @return list<string> names of the folders right in a folder; none where there is no folder
     *
     * @throws PlaceFailure
     */
    public function folders(string $folder): array;

    /**
     * Puts a stream there, to its end; a kill in the middle may leave the beginning of it under its name.
     *
     * @param resource $content
     *
     * @throws PlaceFailure
     */
    public function put(string $path, mixed $content): void;

    /**
     * @return resource
     *
     * @throws PlaceFailure also where nothing is there
     */
    public function open(string $path): mixed;

    /**
     * Removes a file; where there is none that is as good.
     *
     * @throws PlaceFailure
     */
    public function remove(string $path): void;

    /**
     * Removes a folder with all that is in it; where there is none that is as good.
     *
     * @throws PlaceFailure
     */
    public function removeFolder(string $path): void;

    /** Whether it lies on the same disk as a folder of this computer: then both go together. */
    public function isOnDiskOf(string $folder): bool;
}
