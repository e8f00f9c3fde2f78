<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Http\Time;
use Geschenk\App\Words\Words;

/** What the shop keeps of a tray's chats behind the hand-over, until when, or that it was erased. */
final readonly class KeepingView
{
    public function __construct(
        private EntityManagerInterface $entities,
        private MoveFiles $files,
        private Words $words,
    ) {
    }

    /** @return array<string, mixed>|null null before the hand-over */
    public function of(Tray $tray): ?array
    {
        if (null === $tray->closedAt()) {
            return null;
        }
        $kept = $this->entities->getRepository(Backup::class)->findBy(['tray' => $tray]);
        $until = $tray->keepUntil();
        $erased = null === $tray->erasedAt() ? null : $tray->whatWasErased();
        $safetyCopies = array_filter($kept, static fn (Backup $backup): bool => $backup->isSafetyCopy);

        return [
            // The last day, not the moment after it.
            'until' => null === $until ? null : Time::iso($until->modify('-1 second')),
            'backups' => count($kept) - count($safetyCopies), 'safety_copies' => count($safetyCopies),
            'bytes' => array_sum(array_map(static fn (Backup $backup): int => $backup->attachmentBytes, $kept)),
            'erase_asked_at' => null === $tray->eraseAskedAt() ? null : Time::iso($tray->eraseAskedAt()),
            'erased_at' => null === $tray->erasedAt() ? null : Time::iso($tray->erasedAt()),
            'erased_by' => null === $tray->erasedAt() ? null : $this->words->who($tray->eraseBy()),
            'erased' => null === $erased ? [] : array_map(fn (array $one): array => [
                ...$one, 'gone' => !$this->files->isThere($one['id'], $one['kind']),
            ], $erased['folders']),
        ];
    }
}
