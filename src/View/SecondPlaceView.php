<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\SecondPlace;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;
use Geschenk\Core\SecondPlace\Place;
use Geschenk\Core\SecondPlace\PlaceFailure;

/** How things stand at the second place: by what was done there, and by nothing that is asked of it now. */
final readonly class SecondPlaceView
{
    public function __construct(
        private EntityManagerInterface $entities,
        private RunView $runs,
        private DataFolder $data,
        private Words $words,
    ) {
    }

    /**
     * @param Place|PlaceFailure|null $place null where none is set up; a failure where it can't be told which
     * @param Run|null                $last  the one that was asked for last
     *
     * @return array<string, mixed>
     */
    public function of(Place|PlaceFailure|null $place, ?Run $last, bool $isLate): array
    {
        $known = $this->entities->find(SecondPlace::class, SecondPlace::ID);
        $isOpen = null !== $last && !$last->state()->isOver();

        return [
            'is_set' => null !== $place,
            'label' => $place instanceof Place ? $place->label() : null,
            'trouble' => $place instanceof PlaceFailure ? $this->words->of($place) : null,
            'is_same_disk' => $place instanceof Place && $place->isOnDiskOf($this->data->path),
            'since' => Time::isoOrNull($known?->since()), 'complete_at' => Time::isoOrNull($known?->completeAt()),
            'is_late' => $isLate, 'run' => $isOpen ? $this->runs->of($last, $last->acts()) : null,
            ...$this->counts(),
        ];
    }

    /** @return array<string, mixed>|null of one backup; null where it was never there */
    public static function copy(?PlacedCopy $copy): ?array
    {
        return null === $copy ? null : [
            'placed_at' => Time::iso($copy->placedAt()), 'read_at' => Time::iso($copy->readAt()),
            'is_whole' => $copy->isWhole(), 'mended_at' => Time::isoOrNull($copy->mendedAt()),
            'gone_at' => Time::isoOrNull($copy->goneAt()),
        ];
    }

    /** @return array{kept: int, there: int, not_whole: int, to_erase: int, bytes: int, read_since: string|null} */
    private function counts(): array
    {
        $sql = <<<'SQL'
            SELECT
                COUNT(*) FILTER (WHERE b.erase_asked_at IS NULL) AS kept,
                COUNT(*) FILTER (WHERE b.erase_asked_at IS NULL AND c.gone_at IS NULL AND c.is_whole) AS there,
                COUNT(*) FILTER (WHERE b.erased_at IS NOT NULL AND c.name IS NOT NULL AND c.gone_at IS NULL)
                    AS to_erase
            FROM backup b
            LEFT JOIN placed_copy c ON c.backup_id = b.id
            SQL;
        /** @var array{kept: int, there: int, to_erase: int} $backups */
        $backups = $this->entities->getConnection()->fetchAssociative($sql);
        $sql = <<<'SQL'
            SELECT
                COUNT(*) FILTER (WHERE NOT is_whole AND state <> '') AS not_whole,
                COALESCE(SUM(bytes), 0) AS bytes,
                MIN(read_at) AS read_since
            FROM placed_copy
            WHERE gone_at IS NULL
            SQL;
        /** @var array{not_whole: int, bytes: int, read_since: string|null} $copies */
        $copies = $this->entities->getConnection()->fetchAssociative($sql);
        $since = $copies['read_since'];

        return [...$backups, ...$copies, 'read_since' => Time::isoOrNull(
            null === $since ? null : new \DateTimeImmutable($since, new \DateTimeZone('UTC')),
        )];
    }
}
