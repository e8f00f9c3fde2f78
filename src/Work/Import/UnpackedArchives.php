<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Hindrance;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\Chosen;
use Geschenk\Core\Import\Found;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\Import\Part;
use Geschenk\Core\Import\SeveralParts;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/** What comes out of an archive, for as long as its import takes. */
final readonly class UnpackedArchives
{
    private const WHOLE = 'unpacked';
    private const BEGUN = 'begun';
    /** Times its own bytes that come out of an archive, about. */
    private const SWELLS = 3;

    public function __construct(
        private ImportPlaces $places,
        private ChatReading $reading,
        private Importers $importers,
    ) {
    }

    /**
     * @param string              $id   of the run
     * @param \Closure(): string $root of the archive, as it is there now; throws a Hindrance while it is not
     * @param string              $path of it, below that
     *
     * @return \Closure(): string the folder
     *
     * @throws Hindrance
     * @throws UnusableInput
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function unpacked(
        string $id,
        \Closure $root,
        string $path,
        ?BackupKey $password,
        Progress $progress,
    ): \Closure {
        $there = $this->places->find($id);
        if (null !== $there && is_dir($there.'/'.self::WHOLE)) {
            return static fn (): string => $there.'/'.self::WHOLE;
        }
        $archive = $root().'/'.$path;
        try {
            $place = $this->places->workIn(
                $id, self::SWELLS * (int) @filesize($archive),
                function (string $place) use ($archive, $password, $progress): string {
                    $this->unzip($archive, $place, $password, $progress);

                    return $place;
                },
            );
        } catch (UnusableInput $unusable) {
            // What is out is not damaged.
            $root();
            throw $unusable;
        }

        return static fn (): string => $place.'/'.self::WHOLE;
    }

    /**
     * @throws UnusableInput
     * @throws DiskFull
     * @throws DiskFailure
     */
    private function unzip(string $archive, string $place, ?BackupKey $password, Progress $progress): void
    {
        $begun = $place.'/'.self::BEGUN;
        Folder::discard($begun);
        $this->reading->unzip(
            $archive, $password?->told, $begun, new RoomAhead($progress, $this->places->roomIn($place)), Carried::NAME,
        );
        if (!Disk::quietly(static fn (): bool => rename($begun, $place.'/'.self::WHOLE))) {
            throw Disk::failure('rename', $begun);
        }
    }

    /**
     * The one thing in it that is meant: of what lies above all others that could be imported.
     *
     * @return Part its id is where it lies
     *
     * @throws SeveralParts  until somebody has said which
     * @throws UnusableInput when there is none
     */
    public function meant(string $root, Chosen $chosen): Part
    {
        $found = array_values(array_filter(
            $this->importers->in($root)['found'], static fn (Found $one): bool => Importers::ZIP !== $one->sort,
        ));
        $depth = static fn (Found $one): int => '' === $one->path ? -1 : substr_count($one->path, '/');
        $highest = [] === $found ? 0 : min(array_map($depth, $found));
        $parts = [];
        foreach ($found as $one) {
            if ($depth($one) === $highest) {
                $parts[] = new Part($one->path, $one->path, $one->sort, $one->bytes, $one->changedAt);
            }
        }

        return $chosen->of([] === $parts ? throw UnusableInput::notMessengerData(Carried::NAME) : $parts);
    }

    /**
     * @return int bytes of its files
     *
     * @throws DiskFailure
     */
    public function discard(string $id): int
    {
        return $this->places->discard($id);
    }
}
