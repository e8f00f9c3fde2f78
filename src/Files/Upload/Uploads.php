<?php

declare(strict_types=1);

namespace Geschenk\App\Files\Upload;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\Upload;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Lock\LockFactory;
use Symfony\Component\Uid\Uuid;

/** Files that browsers send: piece by piece, gone on with where the line was cut, each its sender's alone. */
final readonly class Uploads
{
    /** Bytes of one. */
    public const LARGEST = 20_000_000_000;
    /** Of one sender, that nothing was made of yet. */
    private const MOST = 4;
    /** For how long one lies that nothing is made of. */
    private const KEPT = '-24 hours';
    private const FILE = 'file';

    public function __construct(
        private UploadPlaces $places,
        private EntityManagerInterface $entities,
        private Records $records,
        private LockFactory $locks,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    /**
     * @throws Refusal
     * @throws DiskFull where there is no room for it
     * @throws DiskFailure
     */
    public function begin(string $name, int $bytes, string $by): Upload
    {
        if ($bytes < 1 || $bytes > self::LARGEST) {
            throw Refusal::because('upload_size', ['most_bytes' => self::LARGEST]);
        }
        $upload = new Upload(Uuid::v7()->toRfc4122(), mb_substr($name, 0, 255), $bytes, $by, $this->clock->now());
        $this->records->change(function () use ($upload): void {
            $others = array_filter(
                $this->entities->getRepository(Upload::class)->findBy(['sentBy' => $upload->sentBy]),
                fn (Upload $one): bool => $this->isFree($one->id),
            );
            count($others) < self::MOST ?: throw Refusal::because('too_many_uploads', ['most' => self::MOST]);
            $this->entities->persist($upload);
        });
        try {
            $place = $this->places->of($upload->id, $bytes);
            if (!$this->places->isInMemory($place) && (int) @disk_free_space($place) < $bytes) {
                throw DiskFull::lacks($bytes);
            }
            fclose(Disk::open($place.'/'.self::FILE, 'x'));
        } catch (DiskFull|DiskFailure $failure) {
            $this->discard($upload->id);
            throw $failure;
        }

        return $upload;
    }

    /** @throws Refusal where it is none of theirs, or gone */
    public function of(string $id, string $by): Upload
    {
        $upload = Uuid::isValid($id) ? $this->entities->find(Upload::class, $id) : null;
        if (null === $upload || $upload->sentBy !== $by || null === $this->file($id)) {
            throw Refusal::because('upload_gone');
        }

        return $upload;
    }

    /** @return string|null path of the file; null where nothing of it is there */
    public function file(string $id): ?string
    {
        $place = $this->places->find($id);

        return null !== $place && is_file($place.'/'.self::FILE) ? $place.'/'.self::FILE : null;
    }

    /** @return int bytes that have come */
    public function there(string $id): int
    {
        $file = $this->file($id) ?? throw Refusal::because('upload_gone');
        clearstatcache(true, $file);

        return (int) filesize($file);
    }

    public function isWhole(Upload $upload): bool
    {
        return $this->there($upload->id) === $upload->bytes;
    }

    /**
     * Puts a piece behind what has come; all of it, or nothing.
     *
     * @param int $from bytes that have come, as whoever sends it knows
     *
     * @return int|null bytes that have come now; null where another many had come: it is gone on with from there
     *
     * @throws Refusal where that is more than was promised, or somebody else is at it
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function add(Upload $upload, int $from, string $piece): ?int
    {
        $lock = $this->locks->createLock('upload-'.$upload->id, null);
        $lock->acquire() ?: throw Refusal::because('upload_at_once');
        try {
            if (!$this->isFree($upload->id)) {
                throw Refusal::because('upload_gone');
            }
            $there = $this->there($upload->id);
            if ($there !== $from) {
                return null;
            }
            if ($there + strlen($piece) > $upload->bytes) {
                throw Refusal::because('upload_too_long');
            }
            $path = (string) $this->file($upload->id);
            $file = Disk::open($path, 'r+');
            try {
                fseek($file, $there);
                Disk::write($file, $piece, $path);
                Disk::finish($file, $path);
            } catch (DiskFull|DiskFailure $failure) {
                is_resource($file) && ftruncate($file, max(0, $there));
                throw $failure;
            }

            return $there + strlen($piece);
        } finally {
            $lock->release();
        }
    }

    /** @throws DiskFailure */
    public function discard(string $id): void
    {
        $this->places->discard($id);
        $this->records->change(function () use ($id): void {
            $upload = $this->entities->find(Upload::class, $id);
            null === $upload ?: $this->entities->remove($upload);
        });
    }

    /** For the watch: what nothing was made of within a day, and what nobody knows of. */
    public function sweep(): void
    {
        $before = $this->clock->now()->modify(self::KEPT);
        $uploads = $this->entities->getRepository(Upload::class)->findAll();
        $known = array_column(array_map(static fn (Upload $one): array => [$one->id, $one], $uploads), 1, 0);
        foreach (array_unique([...array_keys($known), ...$this->places->ids()]) as $id) {
            $upload = $known[$id] ?? null;
            if (!$this->isFree((string) $id) || (null !== $upload && $upload->begunAt > $before)) {
                continue;
            }
            try {
                $this->discard((string) $id);
            } catch (DiskFailure $failure) {
                $this->logger->error('What was sent can’t be removed.', ['exception' => $failure]);
            }
        }
    }

    /** Whether no import was asked for of it, which it would go with. */
    public function isFree(string $id): bool
    {
        return null === $this->entities->getRepository(Import::class)->findOneBy(['upload' => $id]);
    }
}
