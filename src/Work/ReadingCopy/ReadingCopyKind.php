<?php

declare(strict_types=1);

namespace Geschenk\App\Work\ReadingCopy;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Log\LogNames;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\ReadingCopy\CopyMaker;
use Geschenk\App\ReadingCopy\Packings;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfBackup;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Shop;
use Geschenk\App\Work\Verification\ReadBack;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\SafeName;
use Geschenk\Core\Progress;
use Geschenk\Core\ReadingCopy\Extract;
use Geschenk\Core\Stick\Stick;
use Geschenk\Core\Stick\StickCopy;
use Geschenk\Core\Stick\StickHindrance;
use Geschenk\Core\Stick\Sticks;
use Psr\Clock\ClockInterface;

/**
 * Takes a copy of a kept backup home on a stick: made here, put together, put onto the stick and read back from it.
 * What is made lies here until it is there, so that a stick that was out is gone on with.
 *
 * @phpstan-import-type Made from ReadingCopy
 */
final readonly class ReadingCopyKind implements KindOfBackup
{
    /** What was made, once all of it was. */
    private const MADE = 'made.json';
    /** Bytes that pages, lists and names take beside what is counted. */
    private const BESIDE = 1_000_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Vault $vault,
        private CopyPlaces $places,
        private Sticks $sticks,
        private CopyMaker $maker,
        private Packings $packings,
        private KeySafe $keys,
        private ShopLog $log,
        private LogNames $logNames,
        private ReadBack $readBack,
        private ClockInterface $clock,
    ) {
    }

    public static function name(): string
    {
        return 'reading_copy';
    }

    public function ensureMayBegin(Backup $backup): void
    {
        $backup->isKept() ?: throw Refusal::because('erased_already');
        BackupState::Locked !== $backup->state() ?: throw Refusal::because('backup_locked');
    }

    public function take(Run $run, Asked $asked): void
    {
        $wish = $asked->own;
        if (!$wish instanceof CopyWish) {
            // It goes on: what is wanted was said before.
            return;
        }
        $packing = $this->packings->find($wish->packing) ?? throw Refusal::because('no_such_packing');
        $known = $this->maker->names();
        if ([] === $wish->forms || [] !== array_diff($wish->forms, $known)) {
            throw Refusal::because('no_such_form');
        }
        if (null !== $asked->key && !$packing->canLock()) {
            throw Refusal::because('packing_locks_nothing');
        }
        $stick = $this->sticks->find($wish->stick);
        if (null === $stick || !$stick->isThere()) {
            throw Refusal::because('no_such_stick');
        }
        $run->keepKey(null === $asked->key ? null : $this->keys->put($asked->key), $this->clock->now());
        $this->entities->persist(new ReadingCopy(
            $run->id, $run->backup(), array_values(array_intersect($known, $wish->forms)), $packing::name(),
            null !== $asked->key, $wish->selected->toArray(), $wish->language, $stick->id(),
            mb_substr($stick->label(), 0, 80), $run->askedAt, $run->askedBy(),
        ));
        $this->log->noteWithFlush($run->askedBy(), 'reading_copy_asked', $run->backup()->tray->number, [
            'edition' => $run->backup()->edition, 'stick' => $stick->label(),
            'what' => $wish->selected->isAll() ? 'all' : 'some',
        ]);
    }

    public function ensurePossible(Run $run): void
    {
        $this->stick($this->copy($run))->folder();
    }

    public function do(Run $run, Progress $progress): void
    {
        $copy = $this->copy($run);
        if (null !== $copy->madeAt()) {
            return;
        }
        $stick = $this->stick($copy);
        [$path, $made] = $this->made($copy, $run, $stick, $progress);
        $onto = new StickCopy($stick);
        $name = $this->put($onto, $copy, $path, $progress);
        $spoilt = $made['spoilt'] ?? 0;
        // That it is not whole is known from now on, and calls.
        0 === $spoilt ?: $this->readBack->do($copy->backup->id, $progress, false);
        $this->records->change(function () use ($run, $name, $made, $spoilt): void {
            $copy = $this->copy($run);
            $copy->made($name, $made, $this->clock->now());
            $this->log->noteWithFlush($run->askedBy(), 'reading_copy_taken', $copy->backup->tray->number, [
                'edition' => $copy->backup->edition, 'stick' => $copy->stickLabel,
                LogNames::COPY => $this->logNames->keep($copy->backup->tray->number, $name),
                'files' => $made['files'], 'size_bytes' => $made['bytes'],
            ]);
            if ($spoilt > 0) {
                $this->log->noteWithFlush($run->askedBy(), 'reading_copy_not_whole', $copy->backup->tray->number, [
                    'edition' => $copy->backup->edition, 'count' => $spoilt,
                ]);
            }
        });
        $this->places->discard($run->id);
    }

    public function undo(Run $run): Undone
    {
        $copy = $this->copy($run);
        if (null !== $copy->madeAt()) {
            return new Undone(isTooLate: true);
        }
        $removed = $this->places->discard($run->id);
        $stick = $this->sticks->find($copy->stick);
        if (null !== $stick && $stick->isThere()) {
            foreach ($this->names($copy) as $n => $name) {
                // Those behind the first are tried only where that was somebody else's.
                $removed += (new StickCopy($stick))->discardBegun($name);
                if ($n > 0 && !(new StickCopy($stick))->has($name)) {
                    break;
                }
            }
        }

        return new Undone($removed);
    }

    /**
     * @return array{string, Made} path of what goes onto the stick; what is in it
     *
     * @throws DiskFull
     * @throws DiskFailure
     * @throws StickHindrance
     * @throws Refusal
     */
    private function made(ReadingCopy $copy, Run $run, Stick $stick, Progress $progress): array
    {
        $there = $this->places->find($run->id);
        if (null !== $there && is_file($there.'/'.self::MADE)) {
            /** @var array{path: string, made: Made} $told */
            $told = json_decode(Disk::contents($there.'/'.self::MADE), true, 8, \JSON_THROW_ON_ERROR);

            return [$there.'/'.$told['path'], $told['made']];
        }
        $password = $this->keys->told($run->lockedKey());
        if ($copy->isLocked && null === $password) {
            throw Refusal::because('copy_password_gone');
        }
        $packing = $this->packings->find($copy->packing) ?? throw Refusal::because('no_such_packing');
        $backup = $this->vault->open($copy->backup->id);
        $sums = (new Extract($backup->chats(), $backup->files(), $copy->selected()))->sums();
        $bytes = 2 * ($this->maker->bytes($copy->forms, $sums) + self::BESIDE);
        $place = $this->places->of($run->id, $bytes);
        $this->ensureRoom($copy, $place, $bytes, $sums['bytes'], $stick);
        $made = $this->maker->make($copy, $backup, Folder::make($place.'/copy'), $progress);
        $path = $packing->pack($place.'/copy', $place.'/packed', [
            'Bagging-Date' => $copy->askedAt->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk',
            'External-Identifier' => $copy->backup->id,
            'External-Description' => $copy->backup->edition.', '.$copy->backup->account,
        ], $password, $progress);
        Disk::syncAll($place);
        Disk::put($place.'/'.self::MADE, json_encode([
            'path' => substr($path, strlen($place) + 1), 'made' => $made,
        ], \JSON_THROW_ON_ERROR));

        return [$path, $made];
    }

    /** @throws StickHindrance */
    private function put(StickCopy $onto, ReadingCopy $copy, string $path, Progress $progress): string
    {
        foreach ($this->names($copy) as $name) {
            if ($onto->has($name)) {
                if ($onto->holds($path, $name)) {
                    return $name;
                }
                continue;
            }
            $onto->put($path, $name, $progress);

            return $name;
        }
        throw new \LogicException('There is always one more name.');
    }

    /** @return \Generator<int, string> on the stick; what lies there already of somebody's is never touched */
    private function names(ReadingCopy $copy): \Generator
    {
        $ending = $this->packings->find($copy->packing)?->ending() ?? '';
        $day = $copy->askedAt->setTimezone(new \DateTimeZone(Shop::ZONE))->format('Y-m-d');
        $name = implode('_', array_filter(
            [SafeName::of($copy->backup->customer->name()), SafeName::of($copy->backup->edition), $day],
            static fn (string $part): bool => '' !== $part,
        ));
        for ($n = 1;; ++$n) {
            yield $name.(1 === $n ? '' : "_$n").$ending;
        }
    }

    /**
     * @param int $bytes        that it takes until it is on the stick
     * @param int $bytesOfFiles among them
     *
     * @throws DiskFull
     * @throws StickHindrance
     */
    private function ensureRoom(ReadingCopy $copy, string $place, int $bytes, int $bytesOfFiles, Stick $stick): void
    {
        $lying = 0;
        foreach (Folder::files($place) as $file) {
            $lying += (int) filesize($place.'/'.$file);
        }
        $free = $this->places->isInMemory($place) ? null : $this->vault->freeBytes();
        if (null !== $free && $free < $bytes - $lying) {
            throw DiskFull::lacks($bytes - $lying);
        }
        if ($stick->freeBytes() < $bytesOfFiles && $this->maker->usesFiles($copy->forms)) {
            throw StickHindrance::full($stick->label(), intdiv($bytes, 2), $stick->freeBytes());
        }
    }

    private function copy(Run $run): ReadingCopy
    {
        return $this->entities->find(ReadingCopy::class, $run->id)
            ?? throw new \LogicException('It is stored with its run.');
    }

    /** @throws StickHindrance */
    private function stick(ReadingCopy $copy): Stick
    {
        return $this->sticks->find($copy->stick) ?? throw StickHindrance::gone($copy->stickLabel);
    }
}
