<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\CheckCodes;
use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;

/**
 * The short code on a hand-over sheet. Whoever brings the sheet can be told whether what it says of phones, numbers and
 * losses is what the shop's records hold: the code is made of just that, and of a secret of this installation.
 */
final readonly class SheetCode
{
    private const PURPOSE = 'codes of hand-over sheets';
    /** Earlier checks that a sheet may be of, all accounts together. */
    private const MOST = 400;

    public function __construct(private EntityManagerInterface $entities, private CheckCodes $codes)
    {
    }

    public function of(Tray $tray): string
    {
        return $this->codes->of(self::PURPOSE, self::told($tray, array_map(
            static fn (Move $move): ?Check => $move->bringing()->check(), $tray->moves(),
        )));
    }

    /**
     * Holds a code that was read from a sheet against the records.
     *
     * @return array{
     *     newest: bool, at: \DateTimeImmutable|null, sums: list<array{string, array<string, int|string>}>,
     * }|null whether the sheet is of the newest checks, when they were made, and what it has to say of each account, as
     *        keys of translations/ with their parameters; null when it is of none of them
     */
    public function find(Tray $tray, string $told): ?array
    {
        $place = 0;
        foreach ($this->combinations($tray->moves()) as $checks) {
            if ($this->codes->isOf(self::PURPOSE, self::told($tray, $checks), $told)) {
                $times = array_filter(array_map(static fn (?Check $check) => $check?->at, $checks));

                return [
                    'newest' => 0 === $place, 'at' => [] === $times ? null : max($times),
                    'sums' => array_map(self::sums(...), $tray->moves(), $checks),
                ];
            }
            ++$place;
        }

        return null;
    }

    /**
     * @param array{newest: bool, at: \DateTimeImmutable|null, ...}|null $found
     *
     * @return array{string, array<string, int>} a key of translations/, with its parameters
     */
    public static function said(?array $found): array
    {
        return match (true) {
            null === $found => ['sheet_code.of_none', []],
            null === $found['at'] => ['sheet_code.is_backup', []],
            $found['newest'] => ['sheet_code.is_newest', ['checked_at' => $found['at']->getTimestamp()]],
            default => ['sheet_code.is_earlier', ['checked_at' => $found['at']->getTimestamp()]],
        };
    }

    /**
     * The sums that a genuine sheet says of an account, to be held against the paper.
     *
     * @return array{string, array<string, int|string>}
     */
    private static function sums(Move $move, ?Check $check): array
    {
        $backup = $move->backup();
        if (null === $check) {
            return $move->tray->onlyBacksUp() && null !== $backup
                ? ['sheet_code.sums_backup', ['edition' => $move->edition, 'messages' => $backup->messages]]
                : ['sheet_code.not_checked', ['edition' => $move->edition]];
        }
        $totals = array_intersect_key(
            $check->totals(), array_flip(['messages', 'arrived', 'changed', 'left_out', 'missing', 'kept']),
        );

        return ['sheet_code.sums', ['edition' => $move->edition] + $totals + ['kept' => 0]];
    }

    /**
     * The newest check of each account first, then all others that were kept.
     *
     * @param list<Move> $moves
     *
     * @return \Generator<int, list<Check|null>>
     */
    private function combinations(array $moves): \Generator
    {
        $combinations = [[]];
        foreach ($moves as $move) {
            $kept = $this->entities->getRepository(Check::class)
                ->findBy(['bringing' => $move->bringings()], ['id' => 'DESC']);
            $extended = [];
            foreach ($combinations as $before) {
                foreach ([] === $kept ? [null] : $kept as $check) {
                    $extended[] = [...$before, $check];
                }
            }
            $combinations = array_slice($extended, 0, self::MOST);
        }
        yield array_map(static fn (Move $move): ?Check => $move->bringing()->check(), $moves);
        yield from $combinations;
    }

    /** @param list<Check|null> $checks of the tray's accounts, in their order */
    private static function told(Tray $tray, array $checks): string
    {
        return json_encode([
            $tray->number, $tray->customerName(), $tray->errand->value, $tray->openedAt->getTimestamp(),
            array_map(static fn (TrayPhone $phone): array => [
                $phone->tag, $phone->serial, $phone->role()->value,
            ], $tray->phones()),
            array_map(self::account(...), $tray->moves(), $checks),
        ], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES);
    }

    /** @return list<mixed> what the sheet says of an account */
    private static function account(Move $move, ?Check $check): array
    {
        $bringing = $check->bringing ?? $move->bringing();
        $backup = $bringing->backup();
        $losses = [];
        foreach ($bringing->rehearsal()['losses'] ?? [] as $loss) {
            $losses[] = [$loss['rule'], $loss['messages'], $loss['conversations']];
        }

        $totals = $check?->totals();
        if (0 === ($totals['kept'] ?? 0) + ($totals['kept_missing'] ?? 0)) {
            // As sheets said it before chats could be merged: their codes still hold.
            unset($totals['kept'], $totals['kept_missing']);
        }
        $scope = $bringing->scope();

        return [
            $move->edition, $backup?->id, $backup?->account, $backup?->messages, $backup?->attachments,
            $backup?->attachmentsAbsent, $backup?->lost, $losses, $bringing->choices(), $check?->runId, $totals,
            // How many, and not which: that is forgotten when the chats are erased.
            ...(null === $scope ? [] : [[
                $scope['groups'], count($scope['conversations']), $scope['since'], $scope['before'],
            ]]),
        ];
    }
}
