<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Records;
use Geschenk\App\Tray\Standing\Shelf;
use Geschenk\App\Words\Language;
use Geschenk\Core\Files\Durable\Disk;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * The shelf as it is polled each second or so. What a tray's picture is made of is read as plain rows; where they are
 * as they were, the picture that was made of them is shown, until the application is another. None holds a customer's
 * name, or what a phone shows now.
 *
 * @phpstan-import-type Picture from TrayView
 */
final readonly class ShelfPictures
{
    /** Trays behind the hand-over that are told at once. */
    public const PAGE = 50;

    /** Open trays, and those from which a phone is being put back. */
    private const AT_WORK = <<<'SQL'
        SELECT t.number, t.id
        FROM tray t
        WHERE t.closed_at IS NULL OR EXISTS (
            SELECT 1
            FROM move m JOIN run r ON r.id = m.run_id
            WHERE m.tray_id = t.id AND r.state NOT IN (:over)
        )
        SQL;
    private const HANDED_OVER = <<<'SQL'
        SELECT number, id
        FROM tray
        WHERE closed_at IS NOT NULL AND number < :behind
        ORDER BY number DESC
        LIMIT :most
        SQL;

    /** All that a picture is told by, each row beside the tray that it is of; what has no say in it is left out. */
    private const MADE_OF = [
        'SELECT id AS tray, * FROM tray WHERE id IN (:trays)',
        'SELECT tray_id AS tray, * FROM tray_phone WHERE tray_id IN (:trays) ORDER BY id',
        'SELECT tray_id AS tray, * FROM move WHERE tray_id IN (:trays) ORDER BY id',
        <<<'SQL'
            SELECT m.tray_id AS tray, g.*
            FROM move m JOIN bringing g ON g.move_id = m.id
            WHERE m.tray_id IN (:trays) ORDER BY g.id
            SQL,
        <<<'SQL'
            SELECT m.tray_id AS tray, r.*
            FROM move m JOIN run r ON r.id = m.run_id
            WHERE m.tray_id IN (:trays) ORDER BY r.id
            SQL,
        <<<'SQL'
            SELECT m.tray_id AS tray, b.id, b.erase_asked_at
            FROM move m JOIN bringing g ON g.move_id = m.id JOIN backup b ON b.id = g.backup_id
            WHERE m.tray_id IN (:trays) ORDER BY g.id
            SQL,
        <<<'SQL'
            SELECT p.tray_id AS tray, s.serial, s.seen, s.on_bench
            FROM tray_phone p JOIN phone s ON s.serial = p.serial
            WHERE p.tray_id IN (:trays) ORDER BY p.id
            SQL,
        <<<'SQL'
            SELECT p.tray_id AS tray, h.*
            FROM tray_phone p JOIN holding h ON h.serial = p.serial
            WHERE p.tray_id IN (:trays) ORDER BY p.id, h.app
            SQL,
    ];

    public function __construct(
        private Connection $connection,
        private Records $records,
        private Shelf $shelf,
        private TrayView $view,
        private DataFolder $data,
        private Language $language,
        #[Autowire('%kernel.build_dir%/%kernel.container_class%.php')] private string $build,
    ) {
    }

    /**
     * @param int|null $behind number of a tray behind the hand-over; null for what is shown first
     *
     * @return array{trays: list<array<string, mixed>>, behind: int|null} the newest first; what the next page is behind
     */
    public function page(?int $behind): array
    {
        return $this->records->look(function () use ($behind): array {
            [$ids, $next] = $this->ids($behind);
            $kept = null === $behind ? $this->kept() : [];
            $stamps = $this->stamps($ids);
            $pictures = $new = [];
            foreach ($ids as $id) {
                if (($kept[$id]['stamp'] ?? null) === $stamps[$id]) {
                    $pictures[$id] = $kept[$id];
                } else {
                    $new[] = $id;
                }
            }
            foreach ($this->view->pictures($this->shelf->some($new)) as $id => $picture) {
                $pictures[$id] = ['stamp' => $stamps[$id], 'picture' => $picture];
            }
            if (null === $behind && [] !== $new) {
                $this->keep($pictures);
            }
            $inOrder = [];
            foreach ($ids as $id) {
                if (isset($pictures[$id])) {
                    $inOrder[] = $pictures[$id]['picture'];
                }
            }

            return ['trays' => $this->view->onShelf($inOrder), 'behind' => $next];
        });
    }

    /** @return array{list<int>, int|null} of the trays; what the next page is behind */
    private function ids(?int $behind): array
    {
        $over = [RunState::Done->value, RunState::Cancelled->value];
        $atWork = null !== $behind ? [] : $this->connection->fetchAllKeyValue(
            self::AT_WORK, ['over' => $over], ['over' => ArrayParameterType::STRING],
        );
        $handedOver = $this->connection->fetchAllKeyValue(
            self::HANDED_OVER, ['behind' => $behind ?? \PHP_INT_MAX, 'most' => self::PAGE + 1],
        );
        $page = array_slice($handedOver, 0, self::PAGE, true);
        $ids = $atWork + $page;
        krsort($ids);

        return [
            array_values(array_filter($ids, is_int(...))),
            count($handedOver) > self::PAGE ? (int) array_key_last($page) : null,
        ];
    }

    /**
     * @param list<int> $trays ids
     *
     * @return array<int, string> by id: another one once anything has changed that the picture is made of
     */
    private function stamps(array $trays): array
    {
        // How fast computer and cables are is known of all runs together.
        $paces = $this->connection->fetchAllNumeric('SELECT * FROM pace ORDER BY kind, phase, serial');
        $common = @filemtime($this->build).serialize($paces);
        $told = array_fill_keys($trays, $common);
        foreach (self::MADE_OF as $place => $sql) {
            $rows = $this->connection->iterateNumeric(
                $sql, ['trays' => $trays], ['trays' => ArrayParameterType::INTEGER],
            );
            foreach ($rows as $row) {
                if (is_int($row[0])) {
                    $told[$row[0]] .= $place.serialize($row);
                }
            }
        }

        return array_map(static fn (string $of): string => hash('xxh128', $of), $told);
    }

    /** @return array<array-key, array{stamp: string, picture: Picture}> by the tray's id; none where it is spoilt */
    private function kept(): array
    {
        $kept = json_decode((string) @file_get_contents($this->file()), true);

        /** @var array<array-key, array{stamp: string, picture: Picture}> $kept */
        return is_array($kept) ? $kept : [];
    }

    /**
     * Nothing is lost with it: where it can't be written the next poll makes them anew.
     *
     * @param array<int, array{stamp: string, picture: Picture}> $pictures by the tray's id
     */
    private function keep(array $pictures): void
    {
        // One for each process: what a killed one leaves is written over by the next of its number.
        $part = $this->file().'.'.getmypid();
        $flags = \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_PRESERVE_ZERO_FRACTION
            | \JSON_INVALID_UTF8_SUBSTITUTE;
        $json = (string) json_encode((object) $pictures, $flags);
        $isKept = Disk::quietly(fn (): bool => strlen($json) === file_put_contents($part, $json)
            && rename($part, $this->file()));
        if (!$isKept) {
            Disk::quietly(static fn (): bool => unlink($part));
        }
    }

    private function file(): string
    {
        return $this->data->pictures().'/'.$this->language->current().'.json';
    }
}
