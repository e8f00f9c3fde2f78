<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

/** Finds the tray, the move, the backup that an address names. */
final readonly class Trays
{
    public function __construct(private EntityManagerInterface $entities)
    {
    }

    public function get(int $number): Tray
    {
        return $this->entities->getRepository(Tray::class)->findOneBy(['number' => $number])
            ?? throw new NotFoundHttpException('no_such_tray');
    }

    public function move(int $number, int $place): Move
    {
        return $this->get($number)->move($place) ?? throw new NotFoundHttpException('no_such_move');
    }

    /** The one that a move brings, or has made. */
    public function backupOf(int $number, int $place): Backup
    {
        $move = $this->move($number, $place);
        if (!$move->tray->keepsChats()) {
            throw new NotFoundHttpException('erased');
        }

        return $this->backup($move->backup()->id ?? throw new NotFoundHttpException('no_backup'));
    }

    /** One that is kept. */
    public function backup(string $id): Backup
    {
        $backup = $this->onRecord($id);

        return $backup->isKept() ? $backup : throw new NotFoundHttpException('erased');
    }

    /** One that is kept, or was; a safety copy is nobody's to look into. */
    public function onRecord(string $id): Backup
    {
        $backup = $this->entities->find(Backup::class, $id);

        return null === $backup || $backup->isSafetyCopy()
            ? throw new NotFoundHttpException('no_such_backup')
            : $backup;
    }
}
