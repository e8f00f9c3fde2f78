<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Phones;
use Geschenk\App\Customer\Customers;
use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Errand;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Entity\Stage;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Tray\RunSheet;
use Geschenk\Core\Phone\Role;
use Psr\Clock\ClockInterface;

/** Opens trays, gives roles to phones, and says which accounts go along. */
final readonly class Intake
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Phones $phones,
        private RunSheet $sheet,
        private Accounts $accounts,
        private MoveFiles $files,
        private ClockInterface $clock,
        private Customers $customers,
        private KeptBackups $kept,
        private TrayNumbers $numbers,
    ) {
    }

    /** @throws Refusal */
    public function open(Opening $asked, string $by): Tray
    {
        $serials = [Role::Gives->value => $asked->giving, Role::Receives->value => $asked->receiving];
        [] !== $asked->errand->roles() ?: throw Refusal::because('no_such_errand');
        $phones = [];
        foreach ($asked->errand->roles() as $role) {
            $phones[$role->value] = $serials[$role->value];
        }
        if (in_array('', $phones, true)) {
            throw Refusal::because(1 === count($phones) ? 'needs_a_phone' : 'needs_both_phones');
        }
        if (count($phones) !== count(array_unique($phones))) {
            throw Refusal::because('one_phone_twice');
        }

        return $this->records->change(function () use ($asked, $phones, $by): Tray {
            foreach ($phones as $serial) {
                $this->ensureFree($serial);
            }
            $number = $this->numbers->next();
            $now = $this->clock->now();
            $gives = in_array(Role::Gives, $asked->errand->roles(), true);
            $kept = $gives ? [] : $this->keptOf($asked->backups);
            $customer = $this->customer($asked, $kept);
            $isCorrected = $customer->correct($asked->customer, $asked->contact, $asked->language);
            $tray = new Tray($number, $customer, $now, $by, $asked->errand);
            foreach ($phones as $role => $serial) {
                $tray->addPhone($serial, Role::from($role));
            }
            $this->entities->persist($tray);
            $this->sheet->note($tray, Stage::Intake, $by, self::noted('opened', $tray), [
                'customer' => $asked->customer, ...$tray->tags(),
            ]);
            if ($isCorrected) {
                $this->sheet->note($tray, Stage::Intake, $by, 'corrected', ['customer' => $asked->customer]);
            }
            $gives ? $this->accounts->takeUp($tray, $by, false) : $this->takeKept($tray, $kept, $by);

            return $tray;
        });
    }

    /** The code by which a note tells of a tray's errand. */
    public static function noted(string $code, Tray $tray): string
    {
        return match ($tray->errand) {
            Errand::Move => $code,
            Errand::OnlyBackUp => $code.'_to_back_up',
            Errand::BringKept => $code.'_to_bring_kept',
            Errand::Import => $code.'_import',
        };
    }

    /**
     * Whose tray it is.
     *
     * @param list<Backup> $kept
     *
     * @throws Refusal
     */
    private function customer(Opening $asked, array $kept): Customer
    {
        $known = ($kept[0] ?? null)?->customer;
        if (null === $known && null !== $asked->known) {
            $known = $this->customers->get($asked->known);
        }
        if (null === $known) {
            $known = new Customer($asked->customer, $asked->contact, $asked->language);
            $this->entities->persist($known);
        }

        return $known;
    }

    /**
     * @param list<string> $ids
     *
     * @return non-empty-list<Backup>
     *
     * @throws Refusal when there is none, or it is kept no more, or two are of one app or not of one customer
     */
    private function keptOf(array $ids): array
    {
        $backups = [];
        foreach (array_values(array_unique($ids)) as $id) {
            $backup = $this->kept->get($id) ?? throw Refusal::because('no_such_backup');
            KeptBackups::ensureMayBring($backup);
            if (isset($backups[$backup->app])) {
                throw Refusal::because('one_app_twice', ['edition' => $backup->edition]);
            }
            if ([] !== $backups && $backup->customer !== reset($backups)->customer) {
                throw Refusal::because('two_customers');
            }
            $backups[$backup->app] = $backup;
        }

        return [] === $backups ? throw Refusal::because('needs_a_backup') : array_values($backups);
    }

    /**
     * What was backed up once takes the place of a phone that gives.
     *
     * @param list<Backup> $kept
     */
    private function takeKept(Tray $tray, array $kept, string $by): void
    {
        foreach ($kept as $backup) {
            $tray->addMove($backup->app, $backup->edition)->bringing()->isOf($backup);
            $this->sheet->note($tray, Stage::Intake, $by, 'takes_kept', [
                'edition' => $backup->edition, 'taken_at' => $backup->takenAt->getTimestamp(),
                'from' => $backup->tray->number, 'messages' => $backup->messages,
            ]);
        }
    }

    /**
     * What was written down wrongly at the counter, as long as the tray is open.
     *
     * @param string $language the customer's; BCP 47
     *
     * @throws Refusal
     */
    public function correct(int $number, string $customer, string $contact, string $language, string $by): void
    {
        $this->records->changeTray($number, function (Tray $tray) use ($customer, $contact, $language, $by): void {
            if (null !== $tray->closedAt()) {
                throw Refusal::because('tray_closed');
            }
            if ($tray->customer->correct($customer, $contact, $language)) {
                $this->sheet->note($tray, Stage::Intake, $by, 'corrected', ['customer' => $customer]);
            }
        });
    }

    /**
     * Says which phone gives. What was planned for the other direction is dropped.
     *
     * @throws Refusal
     */
    public function give(int $number, string $givingTag, string $by): void
    {
        $turned = $this->records->changeTray($number, function (Tray $tray) use ($givingTag, $by): array {
            $tray->isBetweenPhones() ?: throw Refusal::because('one_phone_alone');
            if ($tray->phone(Role::Gives)->tag === $givingTag) {
                return [];
            }
            if ($tray->phone(Role::Receives)->tag !== $givingTag) {
                throw Refusal::because('no_such_tag', ['tag' => $givingTag]);
            }
            self::ensureMayTurn($tray);
            $tray->swapRoles();
            foreach ($tray->allMoves() as $move) {
                $move->turnRound($this->newestBackup($move), $this->clock->now());
            }
            $turned = $tray->allMoves();
            $this->sheet->note($tray, Stage::Intake, $by, 'roles', [
                'gives' => $tray->phone(Role::Gives)->tag, 'receives' => $tray->phone(Role::Receives)->tag,
            ]);
            $this->accounts->takeUp($tray, $by);

            return $turned;
        });
        // The record goes before its files: nobody is told of a conversion that is gone.
        foreach ($turned as $move) {
            $this->files->clearConversion($move);
        }
    }

    /**
     * Leaves an account out of the job, or takes it in again.
     *
     * @throws Refusal
     */
    public function leaveOut(int $number, int $place, bool $out, string $by): void
    {
        $this->records->changeTray($number, function (Tray $tray) use ($place, $out, $by): void {
            $move = $tray->move($place) ?? throw Refusal::because('no_such_move');
            if ($move->isLeftOut() === $out) {
                return;
            }
            self::ensureMayLeave($move, $out);
            $out ? $move->leaveOut($this->clock->now()) : $move->takeUp();
            $params = ['edition' => $move->edition];
            $this->sheet->note(
                $tray, Stage::Intake, $by, $out ? 'account_left_out' : 'account_taken_in', $params,
            );
        });
    }

    /**
     * Whether the phones' roles can be changed.
     *
     * @throws Refusal
     */
    public static function ensureMayTurn(Tray $tray): void
    {
        $tray->isBetweenPhones() ?: throw Refusal::because('one_phone_alone');
        if ($tray->isBusy()) {
            throw Refusal::because('roles_while_busy');
        }
        if ($tray->hasRestored() || null !== $tray->closedAt()) {
            throw Refusal::because('roles_after_restore');
        }
    }

    /**
     * Whether an account can be left out of the job, or taken in again.
     *
     * @throws Refusal
     */
    public static function ensureMayLeave(Move $move, bool $out): void
    {
        if (null !== $move->tray->closedAt()) {
            throw Refusal::because('tray_closed');
        }
        if ($move->isBusy() || $move->bringing()->isOnPhone()) {
            throw Refusal::because('move_under_way');
        }
        if ($out && 1 === count($move->tray->moves())) {
            throw Refusal::because('last_move');
        }
    }

    /** Of the phone that gives now: after a change of roles another one's counts no more. */
    private function newestBackup(Move $move): ?Backup
    {
        return $this->entities->getRepository(Backup::class)->findOneBy([
            'tray' => $move->tray, 'serial' => $move->from()->serial, 'app' => $move->app, 'origin' => Origin::Account,
        ], ['counter' => 'DESC']);
    }

    /** @throws Refusal */
    private function ensureFree(string $serial): void
    {
        if (null === $this->phones->state($serial)) {
            throw Refusal::because('not_on_bench', ['serial' => $serial]);
        }
        $busy = $this->phones->inUse([$serial])[$serial] ?? null;
        if (null !== $busy) {
            throw Refusal::because('in_other_tray', ['serial' => $serial, 'tray' => $busy]);
        }
    }
}
