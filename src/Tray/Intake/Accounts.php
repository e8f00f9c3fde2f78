<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Records;
use Geschenk\App\Tray\RunSheet;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\Role;

/**
 * The accounts that a tray moves: one for each messenger that the giving phone has and Geschenk knows. A phone that
 * does not show its apps yet is asked again until it does.
 */
final readonly class Accounts
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Phones $phones,
        private Formats $formats,
        private RunSheet $sheet,
    ) {
    }

    /** In the caller's transaction. What the giving phone does not have any more stays, and can be left out. */
    public function takeUp(Tray $tray, string $by, bool $isNoted = true): void
    {
        $apps = $tray->has(Role::Gives) ? $this->onPhone($tray->phone(Role::Gives)->serial) : null;
        if (null === $apps) {
            return;
        }
        $known = [];
        foreach ($tray->allMoves() as $move) {
            $known[$move->app] = $move;
        }
        foreach ($apps as $id => $edition) {
            if (!isset($known[$id])) {
                $move = $tray->addMove($id, $edition);
                if ($isNoted) {
                    $this->sheet->note($tray, Stage::Intake, $by, 'account', ['edition' => $move->edition]);
                }
            }
        }
    }

    /** For the watch: the trays that were opened before their phone showed what it has. */
    public function takeUpWhatShows(): void
    {
        foreach ($this->waiting() as $id) {
            $this->records->change(function () use ($id): void {
                $tray = $this->entities->find(Tray::class, $id);
                if (null !== $tray && null === $tray->closedAt() && [] === $tray->allMoves()) {
                    $this->takeUp($tray, $tray->openedBy);
                }
            });
        }
    }

    /**
     * @return array<string, string>|null what people call each app, by its id; null while the phone does not show them
     */
    public function onPhone(string $serial): ?array
    {
        $state = $this->phones->state($serial);
        if (null === $state?->apps) {
            return null;
        }
        $apps = [];
        foreach ($this->formats->apps() as $app) {
            if (null !== $state->app($app->id)) {
                $apps[$app->id] = $app->edition;
            }
        }

        return $apps;
    }

    /** @return list<int> ids of open trays without a move */
    private function waiting(): array
    {
        $dql = 'SELECT t.id FROM '.Tray::class.' t WHERE t.closedAt IS NULL AND NOT EXISTS ('
            .'SELECT m.id FROM '.Move::class.' m WHERE m.tray = t)';

        return array_values(array_filter(
            $this->entities->createQuery($dql)->getSingleColumnResult(),
            is_int(...),
        ));
    }
}
