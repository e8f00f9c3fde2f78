<?php

declare(strict_types=1);

namespace Geschenk\App\Work\SecondPlace;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\Tray;
use Geschenk\Core\Archive\SealedVault;
use Geschenk\Core\Files\Durable\Folder;
use Psr\Clock\ClockInterface;

/** What is to be done at the second place, by the records and by how what is kept lies here. */
final readonly class PlacePlan
{
    /** Within so many days each copy is read back from there once. */
    public const READ_WITHIN_DAYS = 30;
    /** Only a copy of the files helps where these are wrong, not of the keys. */
    private const MENDABLE = "b.trouble NOT IN ('key_lost', 'keyring_broken') AND c.isWhole = TRUE";

    public function __construct(
        private EntityManagerInterface $entities,
        private SealedVault $vault,
        private DataFolder $data,
        private ClockInterface $clock,
    ) {
    }

    /** Whether something of it should not wait for the night; asked each minute, so of the records alone. */
    public function isPressing(): bool
    {
        $missing = 'SELECT COUNT(b) FROM '.Backup::class.' b LEFT JOIN '.PlacedCopy::class.' c WITH c.backup = b '
            .'WHERE b.eraseAskedAt IS NULL AND b.trouble IS NULL AND (c.name IS NULL OR c.state = :begun)';

        return 0 !== (int) $this->entities->createQuery($missing)->setParameter('begun', '')->getSingleScalarResult()
            || [] !== $this->gone() || [] !== $this->broken();
    }

    /** @return list<string> names of copies whose original was erased or dropped: they go, and nothing else does */
    public function gone(): array
    {
        $names = $this->names(
            'SELECT c.name FROM '.PlacedCopy::class.' c LEFT JOIN c.backup b '
            .'WHERE c.droppedAt IS NOT NULL OR (c.goneAt IS NULL AND b.erasedAt IS NOT NULL) ORDER BY c.name',
        );
        $erased = 'SELECT t.number FROM '.Tray::class.' t WHERE t.erasedAt IS NOT NULL';
        /** @var list<int> $numbers */
        $numbers = $this->entities->createQuery($erased)->getSingleColumnResult();
        $numbers = array_flip($numbers);
        foreach ($this->names('SELECT c.name FROM '.PlacedCopy::class." c WHERE c.name LIKE 'tray-%'") as $name) {
            if (isset($numbers[OurPlace::trayOf($name)])) {
                $names[] = $name;
            }
        }

        return $names;
    }

    /** @return list<string> ids of kept backups that are not whole, and may be mended */
    public function broken(): array
    {
        return $this->names(
            'SELECT b.id FROM '.PlacedCopy::class.' c JOIN c.backup b '
            .'WHERE b.eraseAskedAt IS NULL AND b.trouble IS NOT NULL AND c.goneAt IS NULL AND '.self::MENDABLE
            .' ORDER BY b.counter',
        );
    }

    /** @return list<string> ids of kept backups that are not there as they lie now */
    public function backups(): array
    {
        $states = $this->states();
        $kept = 'SELECT b.id FROM '.Backup::class.' b WHERE b.eraseAskedAt IS NULL AND b.trouble IS NULL '
            .'ORDER BY b.counter';

        return array_values(array_filter(
            $this->names($kept),
            fn (string $id): bool => $this->vault->isSealed($id)
                && ($states[$id] ?? null) !== $this->vault->stateOf($id),
        ));
    }

    /** @return list<int> numbers of trays whose work does not lie there as it lies now */
    public function trays(): array
    {
        $states = $this->states();
        $numbers = [];
        $there = 'SELECT t.number FROM '.Tray::class.' t WHERE t.erasedAt IS NULL AND t.eraseAskedAt IS NULL '
            .'ORDER BY t.number';
        /** @var list<int> $all */
        $all = $this->entities->createQuery($there)->getSingleColumnResult();
        foreach ($all as $number) {
            $state = $this->stateOfTray($number);
            $before = $states[OurPlace::ofTray($number)] ?? null;
            if (null !== $state && $state !== $before) {
                $numbers[] = $number;
            }
        }

        return $numbers;
    }

    public function trayFolder(int $number): string
    {
        return $this->data->path.'/trays/'.$number;
    }

    /** @return string|null null where its work has left nothing */
    public function stateOfTray(int $number): ?string
    {
        $folder = $this->trayFolder($number);
        $told = '';
        clearstatcache();
        foreach (is_dir($folder) ? Folder::files($folder) : [] as $path) {
            // Whoever works there removes some of it meanwhile.
            $told .= $path.' '.@filesize($folder.'/'.$path).' '.@filemtime($folder.'/'.$path)."\n";
        }

        return '' === $told ? null : hash('sha256', $told);
    }

    /** @return list<string> names of the copies that nobody has read for longest, where it is their turn */
    public function toRead(): array
    {
        $all = 'SELECT COUNT(c) FROM '.PlacedCopy::class.' c WHERE c.goneAt IS NULL';
        $count = (int) $this->entities->createQuery($all)->getSingleScalarResult();
        $before = $this->clock->now()->modify(sprintf('-%d days', self::READ_WITHIN_DAYS - 1));
        /** @var list<string> $names */
        $names = $this->entities->createQuery(
            'SELECT c.name FROM '.PlacedCopy::class.' c WHERE c.goneAt IS NULL AND c.readAt < :before AND c.files > 0 '
            .'ORDER BY c.readAt, c.name',
        )->setParameter('before', $before)->setMaxResults((int) ceil(2 * $count / self::READ_WITHIN_DAYS) + 1)
            ->getSingleColumnResult();

        return $names;
    }

    /** @return array<string, string> how each copy that is there lay when it was made, by its name */
    private function states(): array
    {
        $dql = 'SELECT c.name, c.state FROM '.PlacedCopy::class.' c WHERE c.goneAt IS NULL AND c.isWhole = TRUE';
        /** @var list<array{name: string, state: string}> $rows */
        $rows = $this->entities->createQuery($dql)->getArrayResult();

        return array_column($rows, 'state', 'name');
    }

    /** @return list<string> */
    private function names(string $dql): array
    {
        /** @var list<string> $names */
        $names = $this->entities->createQuery($dql)->getSingleColumnResult();

        return $names;
    }
}
