<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Against;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\HeldAgainst;
use Geschenk\App\Records;
use Geschenk\Core\Arrival\Between;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\KeyFailure;
use Geschenk\Core\Seal\Keyring;
use Geschenk\Core\Seal\SealBroken;
use Geschenk\Core\Seal\SealedFile;

/**
 * What came of holding two backups against each other: it tells with whom somebody wrote, and when. So it lies sealed
 * under a key of its own, which is destroyed with either of the two.
 *
 * @phpstan-import-type Fates from Between
 * @phpstan-import-type BetweenRow from Between
 *
 * @phpstan-type HeldResult array{totals: Fates, conversations: list<BetweenRow>}
 */
final readonly class HeldResults
{
    public function __construct(
        private DataFolder $data,
        private Keyring $keys,
        private EntityManagerInterface $entities,
        private Records $records,
    ) {
    }

    /** @param HeldResult $result */
    public function put(string $id, array $result): void
    {
        $file = $this->file($id, true);
        Folder::make(dirname($file->path));
        $part = new SealedFile($file->path.'.part', $this->keys->keyFor(self::key($id)), self::key($id));
        $part->sealText(json_encode($result, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE));
        Disk::sync($part->path);
        Disk::move($part->path, $file->path);
    }

    /**
     * @return HeldResult|null null where it is not there any more: it is made anew then
     *
     * @throws KeyFailure where nobody has told the shop's key
     */
    public function get(string $id): ?array
    {
        try {
            $file = $this->file($id, false);
            $text = $file->isThere() ? $file->text() : null;
        } catch (KeyFailure $failure) {
            $failure->isFinal() ?: throw $failure;

            return null;
        } catch (SealBroken|DiskFailure) {
            return null;
        }
        if (null === $text) {
            return null;
        }
        /** @var HeldResult $result */
        $result = json_decode($text, true, 8, \JSON_THROW_ON_ERROR);

        return $result;
    }

    /**
     * Forgets all that a backup was held against, or that was held against it: keys first.
     *
     * @throws DiskFailure where something can't be removed
     */
    public function forget(Backup $backup): void
    {
        foreach ($this->of($backup) as $held) {
            $this->keys->destroy(self::key($held->id));
            Folder::discard($this->path($held->id));
            Folder::discard($this->path($held->id).'.part');
        }
        $this->records->change(function () use ($backup): void {
            foreach ($this->of($backup) as $held) {
                $this->entities->remove($held);
            }
        });
    }

    /** @return list<HeldAgainst> */
    private function of(Backup $backup): array
    {
        $dql = 'SELECT h FROM '.HeldAgainst::class.' h WHERE h.backup = :backup OR h.earlier = :backup';
        /** @var list<HeldAgainst> $held */
        $held = $this->entities->createQuery($dql)->setParameter('backup', $backup)->getResult();

        return $held;
    }

    private function file(string $id, bool $isNew): SealedFile
    {
        $key = $isNew ? $this->keys->keyFor(self::key($id)) : $this->keys->key(self::key($id));

        return new SealedFile($this->path($id), $key, self::key($id));
    }

    private function path(string $id): string
    {
        return $this->data->path.'/against/'.$id;
    }

    private static function key(string $id): string
    {
        return 'against '.$id;
    }
}
