<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\Cupboard;
use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Customer\SameAccount;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\BackupState;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Errand;
use Geschenk\App\Entity\Phone;
use Geschenk\App\Entity\PlacedCopy;
use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\Http\Time;
use Geschenk\App\Refusal;
use Geschenk\App\Words\Words;

/** A backup in the cupboard: whose it is, how it stands, and what became of it. */
final readonly class CupboardView
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Cupboard $cupboard,
        private KeepingView $keeping,
        private SameAccount $same,
        private KeptBackups $kept,
        private Words $words,
    ) {
    }

    /**
     * @param list<Backup> $backups
     *
     * @return list<array<string, mixed>> in the same order
     */
    public function rows(array $backups): array
    {
        $serials = array_values(array_unique(array_map(static fn (Backup $one): string => $one->serial, $backups)));
        $phones = [];
        foreach ($this->entities->getRepository(Phone::class)->findBy(['serial' => $serials]) as $phone) {
            $phones[$phone->serial] = $phone;
        }

        return array_map(fn (Backup $one): array => $this->row($one, $phones[$one->serial] ?? null), $backups);
    }

    /** @return array<string, mixed> */
    public function whole(Backup $backup): array
    {
        $copy = $this->entities->find(PlacedCopy::class, $backup->id);
        // One that is only begun is none yet.
        $copy = true === $copy?->wasPlaced() ? $copy : null;
        $history = $this->history($backup, $copy);

        return [
            'row' => $this->rows([$backup])[0], 'facts' => KeptBackupView::facts($backup),
            'keeping' => $this->keeping->ofBackup($backup), 'history' => $history,
            'copy' => SecondPlaceView::copy($copy), 'has_earlier' => [] !== $this->same->earlier($backup),
            'bring' => ['act' => 'bring', 'why' => $this->whyNotBring($backup)],
            // Its chats are covered there, and who uncovers them is noted: behind the hand-over the manager alone.
            'look' => BackupState::Kept === $backup->state() ? ['at_rest' => $this->kept->isAtRest($backup)] : null,
        ];
    }

    /** @return array<string, mixed> */
    private function row(Backup $backup, ?Phone $phone): array
    {
        return [
            'of' => KeptBackupView::of($backup),
            'origin' => $backup->origin->value, 'way_in' => $backup->wayIn, 'state' => $backup->state()->value,
            'phone' => $phone?->state()->model, 'serial' => $backup->serial,
            'until' => Time::lastDay($backup->keptUntil()), 'is_due' => $this->cupboard->isDue($backup),
            'is_open' => null === $backup->tray->closedAt(), 'verified_at' => Time::iso($backup->verifiedAt()),
            'is_whole' => null === $backup->trouble(),
        ];
    }

    /** @return list<Bringing> those of this backup, in their order */
    private function bringings(Backup $backup): array
    {
        return $this->entities->getRepository(Bringing::class)->findBy(['backup' => $backup], ['id' => 'ASC']);
    }

    /** @return list<array<string, mixed>> what became of it, the first thing first */
    private function history(Backup $backup, ?PlacedCopy $copy): array
    {
        $what = Errand::Import === $backup->tray->errand ? 'imported' : 'taken';
        $told = [self::event($backup->takenAt, $what, $backup->tray->number)];
        foreach ($this->bringings($backup) as $one) {
            $of = $one->move;
            $check = $one->check();
            $at = [
                'brought' => $one->restoredAt(),
                true === $check?->isComplete() ? 'arrived' : 'differs' => $check?->at, 'put_back' => $one->putBackAt(),
            ];
            foreach ($at as $what => $moment) {
                if (null !== $moment) {
                    $told[] = self::event($moment, $what, $of->tray->number, $of->to()->tag);
                }
            }
        }
        if ($backup->verifiedAt() > $backup->takenAt) {
            $told[] = self::event($backup->verifiedAt(), null === $backup->trouble() ? 'whole' : 'broken');
        }
        foreach ($this->entities->getRepository(ReadingCopy::class)->findBy(['backup' => $backup]) as $taken) {
            $madeAt = $taken->madeAt();
            if (null !== $madeAt) {
                $told[] = self::event($madeAt, 'copied', by: $this->words->who($taken->askedBy));
            }
        }
        if (null !== $backup->lockedAt()) {
            $told[] = self::event($backup->lockedAt(), 'locked');
        }
        $there = [
            'placed' => $copy?->placedAt(), 'mended' => $copy?->mendedAt(), 'unplaced' => $copy?->goneAt(),
        ];
        foreach (array_filter($there) as $what => $moment) {
            $told[] = self::event($moment, $what);
        }
        $erasedAt = $backup->erasedAt();
        if (null !== $erasedAt) {
            $told[] = self::event($erasedAt, 'erased', by: $this->words->who($backup->eraseBy()));
        }
        usort($told, static fn (array $a, array $b): int => strcmp($a['at'], $b['at']));

        return $told;
    }

    /** @return array{at: string, what: string, tray: int|null, tag: string|null, by: string|null} */
    private static function event(
        \DateTimeImmutable $at,
        string $what,
        ?int $tray = null,
        ?string $tag = null,
        ?string $by = null,
    ): array {
        return ['at' => Time::iso($at), 'what' => $what, 'tray' => $tray, 'tag' => $tag, 'by' => $by];
    }

    private function whyNotBring(Backup $backup): ?string
    {
        try {
            KeptBackups::ensureMayBring($backup);

            return null;
        } catch (Refusal $why) {
            return $this->words->failure($why->reason, $why->fields);
        }
    }
}
