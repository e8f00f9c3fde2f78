<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/**
 * The port to one phone at the end of a cable. Every call may throw PhoneUnplugged; all but state() may throw
 * PhoneRefuses. An app is named by its id, paths are relative to the app's data folder with forward slashes; links are
 * never followed. Looking changes nothing on the phone.
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

    /**
     * Names of the folders that lie directly in a folder of the app, at most so many; of one that is not there, none.
     *
     * @return list<string>
     */
    public function folders(string $app, string $folder, int $most): array;

    /**
     * The file, or null when the app has none under this path.
     *
     * @phpstan-impure
     */
    public function file(string $app, string $path): ?PhoneFile;

    /**
     * Copies a file of the app into a stream and hashes it in the same pass. What comes may be short of what was
     * listed, when the file changed meanwhile: whoever calls holds it against file().
     *
     * @param resource            $sink
     * @param callable(int): void $onBytes told the bytes of each piece as it goes
     * @param int                 $from    bytes of its beginning that are not wanted: they came before
     *
     * @return array{bytes: int, sha256: string} of what came
     *
     * @throws PhoneRefuses   when the app has no such file
     * @throws FileUnreadable when the phone can't read it to its end; its bytes are counted from the file's beginning
     */
    public function pull(string $app, string $path, mixed $sink, callable $onBytes, int $from = 0): array;

    /**
     * Copies a stream into a stage beside the app's data, which the app doesn't see. A stage that was begun goes on.
     * The file is on the phone's storage when this returns. What came of one that is interrupted stays as its
     * beginning; how far it can be trusted only the hash of the whole tells.
     */
    public function push(string $app, string $stage, string $path, Sending $sending): void;

    /**
     * Copies a file of the app's data into a stage, on the phone itself, where it is the very content that is wanted:
     * nothing goes over the cable. It is on the phone's storage when this returns.
     *
     * @return bool whether it did; not where another content or none is there
     */
    public function takeOver(string $app, string $stage, string $path, string $sha256): bool;

    /** Bytes that are there of a file whose push was interrupted. */
    public function beginning(string $app, string $stage, string $path): int;

    /**
     * What is complete in a stage.
     *
     * @return iterable<PhoneFile>
     */
    public function staged(string $app, string $stage): iterable;

    /** SHA-256 of a staged file as the phone itself computes it, or null when it is not there. */
    public function stagedHash(string $app, string $stage, string $path): ?string;

    /** Differs once anything of the app's data was written, added or removed. */
    public function mark(string $app): string;

    /**
     * Puts a stage in the place of the app's data: wholly or not at all, also when the power goes, and one at a time.
     * All of it is on the phone's storage when this returns. For a stage that was put in place already it does nothing.
     *
     * @param string $seen the data's mark() when somebody last looked at what would be lost
     *
     * @throws PhoneRefuses when the data has changed since, or there is no such stage
     */
    public function swap(string $app, string $stage, string $seen): void;

    /** The stage that was put in place last; null when none was. */
    public function swapped(string $app): ?string;

    public function dropStage(string $app, string $stage): void;

    /** Restarts the phone; the messenger opens and prepares its database. */
    public function restart(): void;
}
