<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Content\PutsCopies;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;
use Geschenk\Core\Files\Locked\NotUnlocked;
use Geschenk\Core\Hindrance;
use Geschenk\Core\UnusableInput;

/**
 * The files of what is imported. Each comes into the workplace as it is asked for, once, and is noted in the journal
 * when it is on the disk; what nobody names stays where it is.
 *
 * @phpstan-type Came array{bytes: int, changed: string, sha256: string|null}
 */
final class CarriedFiles implements AttachmentFiles
{
    use PutsCopies;

    /** Files that are waited for together. */
    private const MANY = 100;
    private const PIECE = 1_048_576;
    /** Bytes of a path and of each of its names that a file can have here. */
    private const LONGEST_PATH = 1_000;
    private const LONGEST_NAME = 255;

    /** @var array<string, Came> what came and is not noted yet */
    private array $waiting = [];
    private readonly FolderFiles $here;

    public function __construct(private readonly Carried $carried, private readonly Whereabouts $whereabouts)
    {
        $this->here = new FolderFiles(Folder::make($carried->place->raw()), true, $this->hash(...));
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        $this->bring($path);
        $found = $this->here->look($path, $mediaType, $key);

        return Presence::Missing === $found['presence'] && $this->isUnreadable($path)
            ? ['presence' => Presence::Unreadable, 'bytes' => 0, 'sha256' => null]
            : $found;
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        $this->bring($path);

        return $this->here->open($path, $key);
    }

    /**
     * Brings one where it is there; what can't be read to its end is noted as such.
     *
     * @return string|null its hash; null where it did not come
     *
     * @throws Hindrance
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function bring(string $path): ?string
    {
        $lying = $this->whereabouts->of($path);

        return null === $lying ? $this->hash($path) : $this->bringFrom($lying, $path);
    }

    /**
     * The same of one that lies by another name.
     *
     * @param string $path below the messenger's data folder
     *
     * @throws Hindrance
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function bringFrom(Lying $lying, string $path): ?string
    {
        $known = $this->hash($path);
        if (null !== $known || $this->isUnreadable($path) || !$this->canLie($path)) {
            return $known;
        }
        if (!Folder::hasPlain($this->carried->root(), $lying->source)) {
            // What was pulled out this moment is not missing.
            $this->carried->root();

            return null;
        }
        $came = $this->copy($lying, $this->carried->place->piece());
        if (null !== $came['sha256']) {
            $target = $this->carried->place->raw().'/'.$path;
            Folder::make(dirname($target));
            $piece = $this->carried->place->piece();
            // That it is on the disk is waited for with others.
            if (!Disk::quietly(static fn (): bool => rename($piece, $target))) {
                throw Disk::failure('rename', $target);
            }
        }
        $this->waiting[$path] = $came;
        count($this->waiting) < self::MANY ?: $this->note();

        return $came['sha256'];
    }

    /**
     * Brings a file that holds chats and is no messenger's.
     *
     * @param string $source below the root
     *
     * @return array{string, string} where it lies, and its hash
     *
     * @throws Hindrance
     * @throws UnusableInput when it can't be read to its end
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function keep(string $source, string $name): array
    {
        $target = $this->carried->place->came($name);
        Folder::make(dirname($target));
        if (!Folder::hasPlain($this->carried->root(), $source)) {
            throw UnusableInput::notThere(Carried::NAME);
        }
        $sha256 = $this->copy(new Lying($source), $target.'.part')['sha256'];
        if (null === $sha256) {
            throw UnusableInput::unreadable(Carried::NAME);
        }
        Disk::sync($target.'.part');
        Disk::move($target.'.part', $target);

        return [$target, $sha256];
    }

    /**
     * @param string $source below the root
     *
     * @return string|null of one that can be read to its end
     *
     * @throws Hindrance
     */
    public function hashOf(string $source): ?string
    {
        if (!Folder::hasPlain($this->carried->root(), $source)) {
            return null;
        }
        $hash = hash_init('sha256');
        $stream = @fopen($this->carried->root().'/'.$source, 'r');
        while (false !== $stream && !feof($stream)) {
            $this->carried->root();
            $piece = @fread($stream, self::PIECE);
            if (false === $piece) {
                fclose($stream);

                return null;
            }
            hash_update($hash, $piece);
            $this->carried->progress->advance(0);
        }

        return false === $stream ? null : hash_final($hash);
    }

    /**
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function putEmpty(string $path): void
    {
        $target = $this->carried->place->raw().'/'.$path;
        if (null === $this->hash($path) && $this->canLie($path) && !is_file($target)) {
            Folder::make(dirname($target));
            fclose(Disk::open($target, 'x'));
            $this->waiting[$path] = ['bytes' => 0, 'changed' => '0', 'sha256' => hash('sha256', '')];
        }
    }

    /** Whatever came is on the disk, and noted. */
    public function note(): void
    {
        if ([] === $this->waiting) {
            return;
        }
        Disk::syncTogether($this->carried->place->raw());
        $journal = $this->carried->journal;
        $journal->begin();
        foreach ($this->waiting as $path => $came) {
            $journal->listed((string) $path, $came['bytes'], $came['changed']);
            null === $came['sha256']
                ? $journal->unreadable((string) $path, 0)
                : $journal->pulled((string) $path, $came['bytes'], $came['sha256']);
        }
        $journal->commit();
        $this->waiting = [];
    }

    /** Whether it could be a file here, beside those that came. */
    private function canLie(string $path): bool
    {
        if (!Folder::staysInside($path) || strlen($path) > self::LONGEST_PATH) {
            return false;
        }
        $full = $this->carried->place->raw();
        $parts = explode('/', $path);
        foreach ($parts as $n => $part) {
            $full .= '/'.$part;
            $isLast = $n === count($parts) - 1;
            if (strlen($part) > self::LONGEST_NAME || ($isLast ? is_dir($full) : is_file($full))) {
                return false;
            }
        }

        return true;
    }

    private function hash(string $path): ?string
    {
        return $this->waiting[$path]['sha256'] ?? $this->carried->journal->hash($path);
    }

    private function isUnreadable(string $path): bool
    {
        return array_key_exists($path, $this->waiting)
            ? null === $this->waiting[$path]['sha256']
            : $this->carried->journal->isUnreadable($path);
    }

    /**
     * @return Came without a hash where it could not be read to the end that it promises
     *
     * @throws Hindrance
     * @throws DiskFull
     * @throws DiskFailure
     */
    private function copy(Lying $lying, string $to): array
    {
        $from = $this->carried->root().'/'.$lying->source;
        $about = @stat($from);
        $stream = @fopen($from, 'r');
        $bytes = 0;
        $isWhole = false;
        $hash = hash_init('sha256');
        if (false !== $stream) {
            $target = Disk::open($to, 'w');
            try {
                foreach ($this->pieces($stream, $lying->key) as $piece) {
                    hash_update($hash, $piece);
                    Disk::write($target, $piece, $to);
                    $bytes += strlen($piece);
                    $this->carried->progress->advance(0, strlen($piece));
                }
                // What is locked says itself where it ends.
                $isWhole = null !== $lying->key || (false !== $about && $bytes === $about['size']);
            } catch (NotUnlocked) {
                // It costs itself.
            } finally {
                fclose($stream);
                Disk::close($target, $to);
            }
        }
        $sha256 = hash_final($hash);
        if (!$isWhole || ($lying->sha256 ?? $sha256) !== $sha256) {
            // Where it was pulled out, that is said, and not that it is damaged.
            $this->carried->root();
            $sha256 = null;
        }

        return [
            'bytes' => $bytes, 'changed' => (string) (false === $about ? 0 : $about['mtime']), 'sha256' => $sha256,
        ];
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, string> of its content, as far as it can be read
     *
     * @throws NotUnlocked
     * @throws Hindrance
     */
    private function pieces(mixed $stream, ?ContentKey $key): \Generator
    {
        if (null !== $key) {
            foreach (LockedContent::of($stream, $key) as $piece) {
                $this->carried->root();
                yield $piece;
            }

            return;
        }
        while (!feof($stream)) {
            // What was pulled out may still be read for a while.
            $this->carried->root();
            $piece = @fread($stream, self::PIECE);
            if (false === $piece) {
                return;
            }
            yield $piece;
        }
    }
}
