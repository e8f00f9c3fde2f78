<?php

declare(strict_types=1);

namespace Geschenk\Core\Import;

use Geschenk\Core\Archive\Bag;
use Geschenk\Core\Archive\SealedBag;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Zip\Unzipping;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\UnusableInput;

/** The sorts of what can be imported, and what of them lies somewhere. */
final readonly class Importers
{
    /** A sort of file that is unpacked first. */
    public const ZIP = 'zip';
    /** Names that are looked at below a folder, and how deep; what is found there at most. */
    private const MOST_LOOKED = 20_000;
    private const DEEPEST = 6;
    private const MOST = 200;

    /** @param iterable<Importer> $importers */
    public function __construct(private iterable $importers)
    {
    }

    /** @return Importer|null null where there is none of that name any more */
    public function named(string $name): ?Importer
    {
        foreach ($this->importers as $importer) {
            if ($importer::name() === $name) {
                return $importer;
            }
        }

        return null;
    }

    /**
     * What a file or folder is.
     *
     * @param string $path below the root
     */
    public function at(string $root, string $path): ?Found
    {
        $full = '' === $path ? $root : $root.'/'.$path;
        if (!self::isPlain($root, $path)) {
            return null;
        }
        foreach ($this->importers as $importer) {
            if ($importer->recognises($full)) {
                return new Found(
                    $path, $importer::name(), $importer->bytes($full), (int) @filemtime($full), $importer->lock($full),
                );
            }
        }

        return Unzipping::recognises($full) ? new Found(
            $path, self::ZIP, (int) @filesize($full), (int) @filemtime($full),
            Unzipping::isLocked($full) ? BackupLock::Password : BackupLock::Open,
        ) : null;
    }

    /**
     * What lies in a folder and below it, what was changed last first.
     *
     * @return array{found: list<Found>, whole: bool} whether all of it was looked through
     */
    public function in(string $root): array
    {
        $found = [];
        $looked = 0;
        $isWhole = true;
        $folders = [['', 0]];
        while (null !== ($next = array_shift($folders))) {
            [$folder, $depth] = $next;
            $one = $this->at($root, $folder);
            null === $one ?: $found[] = $one;
            if (false === $this->named($one->sort ?? '')?->mayHoldOthers()) {
                continue;
            }
            foreach (@scandir('' === $folder ? $root : $root.'/'.$folder) ?: [] as $name) {
                if (++$looked > self::MOST_LOOKED || count($found) >= self::MOST) {
                    return ['found' => self::sorted($found), 'whole' => false];
                }
                $path = '' === $folder ? $name : $folder.'/'.$name;
                if ('.' === $name || '..' === $name || !mb_check_encoding($name, 'UTF-8')
                    || is_link($root.'/'.$path)) {
                    continue;
                }
                if (is_dir($root.'/'.$path)) {
                    $depth < self::DEEPEST ? $folders[] = [$path, $depth + 1] : $isWhole = false;
                    continue;
                }
                $file = $this->at($root, $path);
                // Other programs have files of that sort under endings of their own.
                if (null !== $file && (self::ZIP !== $file->sort || 1 === preg_match('/\.zip$/iD', $name))) {
                    $found[] = $file;
                }
            }
        }

        return ['found' => self::sorted($found), 'whole' => $isWhole];
    }

    /**
     * @param string $sort as it was found
     *
     * @throws Hindrance
     * @throws UnusableInput when it is nothing of that sort any more, or lies in a bag that is broken
     */
    public function fetch(Carried $carried, string $sort): Fetched
    {
        $root = $carried->root();
        $importer = $this->named($sort);
        if (null === $importer || !self::isPlain($root, $carried->path)
            || !$importer->recognises($carried->full())) {
            $carried->root();
            throw SealedBag::recognises($carried->full())
                ? UnusableInput::sealedElsewhere(Carried::NAME)
                : UnusableInput::notMessengerData(Carried::NAME);
        }
        $this->ensureBagsAboveAreWhole($root, $carried);

        return $importer->fetch($carried);
    }

    /**
     * A copy that was put together as a bag says what is in it.
     *
     * @throws Hindrance
     * @throws UnusableInput
     */
    private function ensureBagsAboveAreWhole(string $root, Carried $carried): void
    {
        if ('' === $carried->path) {
            return;
        }
        for ($path = $carried->folder();; $path = str_contains($path, '/') ? dirname($path) : '') {
            $full = '' === $path ? $root : $root.'/'.$path;
            if (Bag::recognises($full)) {
                try {
                    Bag::validate($full, $carried->progress);
                } catch (UnusableInput $broken) {
                    $carried->root();
                    throw $broken;
                }
            }
            if ('' === $path) {
                return;
            }
        }
    }

    /** Whether it is below the root, by its words and with no link on the way. */
    private static function isPlain(string $root, string $path): bool
    {
        if ('' === $path) {
            return true;
        }
        $full = $root;
        foreach (Folder::staysInside($path) ? explode('/', $path) : [''] as $part) {
            $full .= '/'.$part;
            if ('' === $part || is_link($full)) {
                return false;
            }
        }

        return true;
    }

    /**
     * @param list<Found> $found
     *
     * @return list<Found>
     */
    private static function sorted(array $found): array
    {
        usort($found, static fn (Found $a, Found $b): int => [$b->changedAt, $a->path] <=> [$a->changedAt, $b->path]);

        return $found;
    }
}
