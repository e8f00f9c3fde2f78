<?php

declare(strict_types=1);

namespace Geschenk\Standin\Phone;

use Geschenk\Core\Phone\PhoneUnplugged;
use Geschenk\Core\Platform;

/**
 * What happens to a stand-in phone by itself: planned for when so many bytes have travelled, or for a moment.
 *
 * @phpstan-import-type State from PhoneFolder
 * @phpstan-import-type Fault from PhoneFolder
 */
final class Faults
{
    /** What can be planned; under "fault" in translations/. */
    public const KINDS = ['unplug', 'lock', 'restart', 'drain', 'withdraw', 'fill'];
    /** Ends the process that is at the phone, at once. */
    public const KILL = 'kill';
    /** Percent that are left when the battery is drained. */
    private const DRAINED = 3;
    /** Bytes that are left when the storage is filled. */
    private const FILLED = 40_000;

    /**
     * Lets happen what is due when so many bytes have travelled in a direction, or by the clock; each once.
     *
     * @return State of the phone behind that
     *
     * @throws PhoneUnplugged
     */
    public static function strike(PhoneFolder $phone, string $direction, int $bytesMoved): array
    {
        return self::let($phone, static fn (array $fault): bool => self::isByClock($fault)
            || (in_array($fault['on'], [$direction, 'any'], true) && $bytesMoved >= ($fault['after_bytes'] ?? 0)));
    }

    /**
     * Lets happen what is due by the clock.
     *
     * @return State of the phone behind that
     *
     * @throws PhoneUnplugged
     */
    public static function strikeByTime(PhoneFolder $phone): array
    {
        return self::let($phone, self::isByClock(...));
    }

    /** @param Fault $fault */
    private static function isByClock(array $fault): bool
    {
        return 'time' === $fault['on'] && time() >= ($fault['at'] ?? 0);
    }

    /**
     * Plans one for when so much has been copied from the phone, or to it.
     *
     * @param int $bytes all that there is to copy
     */
    public static function planWhileCopying(PhoneFolder $phone, string $kind, int $percent, int $bytes): void
    {
        self::add($phone, [
            'on' => 'any', 'do' => $kind, 'after_bytes' => intdiv($bytes * $percent, 100), 'percent' => $percent,
        ]);
    }

    /** @param int $at s since 1970 UTC */
    public static function planForMoment(PhoneFolder $phone, string $kind, int $at): void
    {
        self::add($phone, ['on' => 'time', 'do' => $kind, 'at' => $at]);
    }

    /** @return list<Fault> what a person has planned */
    public static function planned(PhoneFolder $phone): array
    {
        return array_values(array_filter(
            $phone->state()['faults'], static fn (array $fault): bool => in_array($fault['on'], ['any', 'time'], true),
        ));
    }

    public static function forget(PhoneFolder $phone): void
    {
        $phone->change(static function (array $s): array {
            $s['faults'] = array_values(array_filter(
                $s['faults'], static fn (array $fault): bool => !in_array($fault['on'], ['any', 'time'], true),
            ));

            return $s;
        });
    }

    /** @param Fault $fault */
    private static function add(PhoneFolder $phone, array $fault): void
    {
        $phone->change(static fn (array $s): array => ['faults' => [...$s['faults'], $fault]] + $s);
    }

    /**
     * @param callable(Fault): bool $isDue
     *
     * @return State
     */
    private static function let(PhoneFolder $phone, callable $isDue): array
    {
        $state = $phone->state();
        if ([] === $state['faults'] || [] === self::due($state['faults'], $isDue)) {
            return $state;
        }
        $due = [];
        $used = $phone->used();
        $state = $phone->change(static function (array $s) use ($isDue, $used, &$due): array {
            $due = self::due($s['faults'], $isDue);
            $s['faults'] = array_values(array_diff_key($s['faults'], $due));
            foreach ($due as $fault) {
                $s = self::after($s, $fault, $used);
            }

            return $s;
        });
        if (in_array(self::KILL, $due, true)) {
            posix_kill((int) getmypid(), \SIGKILL);
        }

        return $state;
    }

    /**
     * @param list<Fault>           $faults
     * @param callable(Fault): bool $isDue
     *
     * @return array<int, string> what they do, by their place
     */
    private static function due(array $faults, callable $isDue): array
    {
        $due = [];
        foreach ($faults as $place => $fault) {
            if (in_array($fault['do'], [...self::KINDS, self::KILL], true) && $isDue($fault)) {
                $due[$place] = $fault['do'];
            }
        }

        return $due;
    }

    /**
     * @param State $s
     *
     * @return State
     */
    public static function after(array $s, string $fault, int $used): array
    {
        $change = match ($fault) {
            'unplug' => ['plugged' => false],
            'lock' => ['unlocked' => false],
            'restart' => ['unlocked' => false, 'started_at' => time(), 'starts' => ($s['starts'] ?? 0) + 1],
            'drain' => ['battery' => self::DRAINED],
            'withdraw' => Platform::Android->value === $s['platform'] ? ['debugging' => false] : ['admitted' => false],
            'fill' => ['storage_other' => max($s['storage_other'], $s['storage_total'] - $used - self::FILLED)],
            default => [],
        };

        return $change + $s;
    }
}
