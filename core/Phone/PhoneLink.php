<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/**
 * The port to one phone at the end of a cable. Every call may throw PhoneUnplugged; all but state() may throw
 * PhoneRefuses. An app is named by its id, paths are relative to the app's data folder with forward slashes.
 */
interface PhoneLink
{
    public function serial(): string;

    /** What the phone lets this computer see right now; readable also when the phone is not plugged in. */
    public function state(): PhoneState;

    /**
     * The files of an app.
     *
     * @return iterable<PhoneFile>
     */
    public function files(string $app): iterable;

    /** The file, or null when the app has none under this path. */
    public function file(string $app, string $path): ?PhoneFile;

    /**
     * Copies a file of the app into a stream and hashes it in the same pass.
     *
     * @param resource            $sink
     * @param callable(int): void $onBytes told the bytes of each piece as it goes
     *
     * @return array{bytes: int, sha256: string} of what came
     */
    public function pull(string $app, string $path, mixed $sink, callable $onBytes): array;

    /**
     * Copies a stream into a stage beside the app's data, which the app doesn't see. A stage that was begun goes on.
     *
     * @param resource            $source
     * @param callable(int): void $onBytes told the bytes of each piece as it goes
     */
    public function push(string $app, string $stage, string $path, mixed $source, callable $onBytes): void;

    /**
     * What is complete in a stage.
     *
     * @return iterable<PhoneFile>
     */
    public function staged(string $app, string $stage): iterable;

    /** SHA-256 of a staged file as the phone itself computes it, or null when it is not there. */
    public function stagedHash(string $app, string $stage, string $path): ?string;

    /** Puts a stage in the place of the app's data: wholly or not at all, also when the power goes. */
    public function swap(string $app, string $stage): void;

    public function dropStage(string $app, string $stage): void;

    /** Restarts the phone; the messenger opens and prepares its database. */
    public function restart(): void;
}
