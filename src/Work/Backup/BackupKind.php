<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Backup;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Step;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\Phase;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\RunSheet;
use Geschenk\App\Tray\Standing\LackingPoint;
use Geschenk\App\Tray\Standing\TrayReadiness;
use Geschenk\App\Work\Guards;
use Geschenk\App\Work\PhoneKind;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Phone\PhoneDirectory;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneRefuses;
use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Phone\Point;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\UnusableInput;
use Geschenk\Core\WayIn\Ways;
use Psr\Clock\ClockInterface;

/** Takes the backup of a move's account. */
final class BackupKind extends PhoneKind
{
    /** Of the bytes to pull: the chats that are read out of them take some room too. */
    private const SPACE_FACTOR = 1.25;

    public function __construct(
        PhoneDirectory $phones,
        private readonly BackupMaker $maker,
        private readonly Vault $vault,
        private readonly MoveFiles $files,
        private readonly Records $records,
        private readonly EntityManagerInterface $entities,
        private readonly RunSheet $sheet,
        private readonly ClockInterface $clock,
        private readonly KeySafe $keys,
        private readonly Ways $ways,
        private readonly Phones $seen,
        private readonly TrayReadiness $readiness,
    ) {
        parent::__construct($phones);
    }

    public static function name(): string
    {
        return 'backup';
    }

    public function stage(): Stage
    {
        return Stage::BackUp;
    }

    public function phone(Move $move): TrayPhone
    {
        return $move->from();
    }

    public function phases(Move $move): array
    {
        return [
            new Phase('pulling', Phase::BYTES, true), new Phase('reading', Phase::MESSAGES),
            new Phase('packing', Phase::BYTES), new Phase('sealing', Phase::BYTES),
        ];
    }

    public function goesAcross(): bool
    {
        return false;
    }

    public function ensureItsTurn(Move $move): void
    {
        Guards::ensureNotRestored($move);
    }

    public function ensureMayBegin(Move $move): void
    {
        Guards::ensureReady($this->readiness->lacking($move));
    }

    /** What is taken and what opens it; a key that was told for chats that lie open is not kept. */
    public function take(Run $run, Asked $asked): void
    {
        $giving = $run->move()->from();
        if (null === $run->offer()) {
            // It may have been asked for while the phone showed nothing.
            $run->takes($this->offer($run->move(), $asked->offer));
        }
        $offer = $run->offer();
        if (null !== $offer) {
            $steps = $this->readiness->stepsToDo($run->move(), $offer);
            $hindrances = array_filter($steps, static fn (Point $step): bool => $step->isHindrance());
            Guards::ensureReady([] === $hindrances ? null : new LackingPoint($giving, reset($hindrances)));
            if (!$offer->isLocked()) {
                return;
            }
            null !== $asked->key ?: throw Refusal::because('needs_key', ['tag' => $giving->tag]);
        }
        // Where it can't be seen now the run waits for the phone, and then the key is there if it was told.
        $run->keepKey(null === $asked->key ? null : $this->keys->put($asked->key), $this->clock->now());
    }

    /** That the phones were ready, once. */
    public function note(Run $run): void
    {
        $move = $run->move();
        $tray = $move->tray;
        $isNoted = [] !== array_filter(
            $tray->steps(), static fn (Step $step): bool => Stage::Ready === $step->stage,
        );
        if (!$isNoted) {
            $isOne = $tray->onlyBacksUp();
            $this->sheet->note($tray, Stage::Ready, $run->askedBy(), $isOne ? 'ready_one' : 'ready', [
                'gives' => $move->from()->tag, ...($isOne ? [] : ['receives' => $move->to()->tag]),
            ]);
        }
    }

    public function backupId(Run $run): string
    {
        return $run->id;
    }

    /**
     * The one that was asked for, and what is proposed where none was.
     *
     * @return Offer|null null where the phone shows nothing now
     *
     * @throws Refusal when it is not there, or no more
     */
    private function offer(Move $move, ?string $id): ?Offer
    {
        $holding = $this->seen->holding($move->from()->serial, $move->app);
        if (null === $id) {
            return null === $holding?->mark() ? null : $holding->proposed();
        }
        foreach ($holding?->offers() ?? [] as $seen) {
            if ($seen->offer->id() === $id) {
                return $seen->offer;
            }
        }
        throw Refusal::because('no_such_offer', ['tag' => $move->from()->tag]);
    }

    public function do(Run $run, Progress $progress): void
    {
        $move = $run->move();
        $link = $this->link($run);
        $offer = $this->settled($run, $link);
        $way = $this->ways->of($offer);
        $taking = new Taking($link, $move->app, $offer, $this->keys->take($run->lockedKey()));
        if (!$this->vault->isKept($run->id)) {
            $this->ensureSpace($way->bytes($taking) - $this->vault->workplace($run->id)->bytesThere());
        }
        $this->maker->make($way, $taking, $run->id, [
            'Bagging-Date' => $this->clock->now()->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk',
            'External-Identifier' => $run->id,
            'External-Description' => sprintf('%s, %s, %d', $move->edition, $link->serial(), $move->tray->number),
        ], $progress);
        if (null !== $this->entities->find(Backup::class, $run->id)) {
            return;
        }
        $this->records->change(function () use ($run, $link, $offer): void {
            $move = $run->move();
            $chats = $this->vault->open($run->id)->chats();
            $summary = $chats->summary();
            $madeAt = $offer->madeAt;
            $backup = new Backup(
                $run->id, $this->records->next(Backup::class), $move->tray, $link->serial(), $move->app, $move->edition,
                $offer->way, $this->clock->now(),
                $chats->source()->account, $summary['conversations'], $summary['messages'], $summary['attachments'],
                $summary['attachments_missing'], $summary['attachment_bytes'], $chats->newestUpTo(Looks::soon()),
                $summary['lost'], null === $madeAt ? null : (new \DateTimeImmutable())->setTimestamp($madeAt),
                null === $madeAt ? null : $offer->lock, 0 === $offer->videos,
                lossUncounted: $chats->isLossUncounted(),
            );
            $this->entities->persist($backup);
            $move->bringing()->isOf($backup);
            $code = null === $madeAt ? 'backed_up' : 'backed_up_own';
            $this->sheet->note($move, Stage::BackUp, $run->askedBy(), $code, [
                'messages' => $summary['messages'], 'conversations' => $summary['conversations'],
                'attachments' => $summary['attachments_present'], 'tag' => $move->from()->tag,
                'lost' => $summary['lost'],
                ...(null === $madeAt ? [] : ['made_at' => $madeAt]),
            ]);
        });
        // What was converted of an earlier backup is of no more use.
        $this->files->clearConversion($move);
    }

    public function undo(Run $run): Undone
    {
        if (null !== $this->entities->find(Backup::class, $run->id)) {
            return new Undone(isTooLate: true);
        }

        return new Undone($this->vault->discard($run->id));
    }

    /**
     * What is taken. Where it was asked for while the phone showed nothing, it is what is proposed now.
     *
     * @throws PhoneUnplugged
     * @throws PhoneRefuses
     * @throws UnusableInput  when there is nothing
     */
    private function settled(Run $run, PhoneLink $link): Offer
    {
        if (null === $run->offer()) {
            $offer = $this->ways->offers($link, $run->move()->app)[0]
                ?? throw UnusableInput::notMessengerData('@phone_data');
            $this->records->change(function () use ($run, $offer): void {
                $run->takes($offer);
                if (!$offer->isLocked()) {
                    $run->keepKey(null, $this->clock->now());
                }
            });
        }

        return $run->offer() ?? throw new \LogicException('It was settled.');
    }

    /** @param int $bytes that are still to come: the raw files, and the chats read out of them */
    private function ensureSpace(int $bytes): void
    {
        $free = $this->vault->freeBytes();
        $needed = (int) (self::SPACE_FACTOR * max(0, $bytes));
        if (null !== $free && $free < $needed) {
            throw DiskFull::lacks($needed);
        }
    }
}
