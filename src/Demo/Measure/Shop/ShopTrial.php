<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure\Shop;

use Geschenk\App\Demo\Measure\FaultTrial;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Phone\Faults;
use Geschenk\Standin\Phone\PhoneFolder;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Process\Process;

/**
 * A job of a shop with its records, worker and watch as processes of their own, interrupted at moments drawn by a seed:
 * processes killed one by one or all together, and every fault that a phone can have. What a person does when called is
 * done; in the end nothing may be lost, half done, or left lying.
 *
 * @phpstan-type Outcome array{whole: bool, faults: list<string>, interrupted: int, by_hand: int, story: list<string>}
 */
final class ShopTrial
{
    /** Seconds for one act, whatever interrupts it. */
    private const PATIENCE = 300.0;
    private const BY_HAND = 'went on by hand';
    /** Seconds between two looks at records and phones. */
    private const LOOK_US = 60_000;
    /** Seconds until somebody comes and puts right what a phone shows. */
    private const TENDED_AFTER = 0.4;
    /** Bytes: whose storage holds less than that free, is full. */
    private const ROOM = 100_000_000;
    private const POWER = 'power';

    /** @var array<string, array{gives: string, receives: string}> by kind: what the phones held at first */
    private array $original = [];

    /** @param string $folder for its files, empty */
    public function __construct(private readonly string $project, private readonly string $folder)
    {
    }

    /**
     * @param (callable(string): void)|null $harm done to the data folder before it is judged, to see that it is seen
     *
     * @return Outcome
     *
     * @throws \RuntimeException when the job can't even be prepared
     */
    public function run(TrialKind $kind, int $seed, ?callable $harm = null): array
    {
        $chance = new Randomizer(new Mt19937($seed));
        $home = $this->folder.'/run';
        $this->layOut($kind, $home);
        $crew = new Crew($this->project, $home);
        $story = [];
        $faults = [];
        $interrupted = 0;
        try {
            foreach ($kind->interrupted as $act) {
                foreach ([ShopActs::GIVING, ShopActs::RECEIVING] as $serial) {
                    FaultTrial::mend(self::phone($home, $serial));
                }
                $crew->act($act);
                $plan = $this->plan($chance, $home, $story);
                $before = $this->list($home, ShopActs::RECEIVING);
                $seen = [];
                $isOver = $this->follow($crew, $home, $plan, $seen, $story);
                $interrupted += count($plan);
                if (!$isOver) {
                    $faults[] = "$act was not over";
                    break;
                }
                $after = $this->list($home, ShopActs::RECEIVING);
                $between = array_diff(array_keys($seen), [$before, $after]);
                if ([] !== $between) {
                    $faults[] = "$act showed the phone half done";
                }
            }
            $crew->end();
            null === $harm ?: $harm($home);
            $faults = [...$faults, ...$this->judge($kind, $home, $crew->act('judge'))];
        } finally {
            $crew->end();
        }
        Folder::remove($home);

        return [
            'whole' => [] === $faults, 'faults' => $faults, 'interrupted' => $interrupted,
            'by_hand' => count(array_keys($story, self::BY_HAND, true)),
            'story' => $story,
        ];
    }

    /**
     * @param array<array-key, mixed> $told of ShopActs::judge()
     *
     * @return list<string> what is not as it must be
     */
    private function judge(TrialKind $kind, string $home, array $told): array
    {
        $original = $this->original[$kind->name] ?? throw new \LogicException('It was not laid out.');
        $records = new \SQLite3($home.'/shop.sqlite', \SQLITE3_OPEN_READONLY);
        $isKept = true === ($told['kept'] ?? null);
        $checks = [
            'the giving phone was changed' => $original['gives'] === $this->hash($home, ShopActs::GIVING),
            'the records are damaged' => 'ok' === $records->querySingle('PRAGMA integrity_check'),
            'something is under way still' => true === ($told['over'] ?? null),
            'a run failed: '.json_encode($told['failed'] ?? []) => [] === ($told['failed'] ?? null),
            'the chain of the log is broken' => true === ($told['log'] ?? null),
            'left lying: '.json_encode($told['left'] ?? []) => [] === ($told['left'] ?? null),
            'what was backed up is '.($kind->isKept ? 'gone' : 'there still') => $kind->isKept === $isKept,
            'not all arrived' => TrialKind::ARRIVED !== $kind->receiving || true === ($told['complete'] ?? null),
            'the receiving phone is not as before' => TrialKind::AS_BEFORE !== $kind->receiving
                || $original['receives'] === $this->hash($home, ShopActs::RECEIVING),
        ];
        $records->close();

        return array_keys(array_filter($checks, static fn (bool $isSo): bool => !$isSo));
    }

    /**
     * @param list<string> $story
     *
     * @return list<array{at: float, do: string, serial: string}> what happens how many seconds after the act
     */
    private function plan(Randomizer $chance, string $home, array &$story): array
    {
        $plan = [];
        $at = 0.0;
        for ($n = $chance->getInt(1, 4); $n > 0; --$n) {
            $at += 0.05 + $chance->getInt(0, 1_400) / 1_000;
            $serial = [ShopActs::GIVING, ShopActs::RECEIVING][$chance->getInt(0, 1)];
            $all = ['worker', 'worker', 'watch', self::POWER, ...Faults::KINDS];
            $do = $all[$chance->getInt(0, count($all) - 1)];
            if (in_array($do, Faults::KINDS, true) && 0 === $chance->getInt(0, 1)) {
                // As often by what travels as by the clock.
                $bytes = $chance->getInt(0, 300_000);
                $fault = ['on' => ['pull', 'push'][$chance->getInt(0, 1)], 'do' => $do, 'after_bytes' => $bytes];
                self::phone($home, $serial)->change(
                    static fn (array $s): array => ['faults' => [...$s['faults'], $fault]] + $s,
                );
                $story[] = sprintf('%s %s after %d bytes of %s', $serial, $do, $bytes, $fault['on']);
                continue;
            }
            $plan[] = ['at' => $at, 'do' => $do, 'serial' => $serial];
            $story[] = sprintf('%s at %.2f s', in_array($do, Faults::KINDS, true) ? "$serial $do" : $do, $at);
        }

        return $plan;
    }

    /**
     * @param list<array{at: float, do: string, serial: string}> $plan
     * @param array<string, true>                                $seen  how the receiving phone was met, filled in
     * @param list<string>                                       $story
     */
    private function follow(Crew $crew, string $home, array $plan, array &$seen, array &$story): bool
    {
        $begun = hrtime(true) / 1e9;
        $unfitSince = [];
        while (($passed = hrtime(true) / 1e9 - $begun) < self::PATIENCE) {
            $crew->attend();
            while ([] !== $plan && $plan[0]['at'] <= $passed) {
                $this->happen($crew, $home, array_shift($plan));
            }
            foreach ([ShopActs::GIVING, ShopActs::RECEIVING] as $serial) {
                $phone = self::phone($home, $serial);
                if (self::isFit($phone)) {
                    unset($unfitSince[$serial]);
                    continue;
                }
                $unfitSince[$serial] ??= $passed;
                if ($passed - $unfitSince[$serial] > self::TENDED_AFTER) {
                    FaultTrial::mend($phone);
                }
            }
            $look = $this->list($home, ShopActs::RECEIVING);
            // Whoever looks while two folders change places may see some of each: what counts is what stays so.
            if ($look === $this->list($home, ShopActs::RECEIVING)) {
                $seen[$look] = true;
            }
            $standing = [] === $plan ? $this->standing($home) : 'under way';
            if ('over' === $standing) {
                return true;
            }
            if ('failed' === $standing) {
                $story[] = self::BY_HAND;
                $crew->act('goOn');
            }
            usleep(self::LOOK_US);
        }

        return false;
    }

    /** @param array{at: float, do: string, serial: string} $what */
    private function happen(Crew $crew, string $home, array $what): void
    {
        if (self::POWER === $what['do']) {
            array_map($crew->kill(...), Crew::tasks());
        } elseif (in_array($what['do'], Crew::tasks(), true)) {
            $crew->kill($what['do']);
        } else {
            $phone = self::phone($home, $what['serial']);
            $used = $phone->used();
            $phone->change(static fn (array $s): array => Faults::after($s, $what['do'], $used));
        }
    }

    /** @return 'over'|'failed'|'under way' */
    private function standing(string $home): string
    {
        $records = new \SQLite3($home.'/shop.sqlite', \SQLITE3_OPEN_READONLY);
        $records->busyTimeout(5_000);
        $count = static fn (string $where): int => (int) $records->querySingle('SELECT COUNT(*) FROM '.$where);
        $underWay = $count("run WHERE state NOT IN ('done', 'failed', 'paused', 'cancelled') OR left_on_phone = 1")
            + $count('tray WHERE erase_asked_at IS NOT NULL AND erased_at IS NULL');
        $failed = $count("run r WHERE state = 'failed' AND EXISTS (SELECT 1 FROM move m WHERE m.run_id = r.id)");
        $records->close();

        return $underWay > 0 ? 'under way' : ($failed > 0 ? 'failed' : 'over');
    }

    /** The job as it is before anything interrupts it: made once, and copied. */
    private function layOut(TrialKind $kind, string $home): void
    {
        $made = $this->folder.'/'.strtr($kind->name, ' ', '-');
        if (!isset($this->original[$kind->name])) {
            Folder::make($made.'/scratch');
            $crew = new Crew($this->project, $made);
            $crew->migrate();
            foreach (['layPhones', ...$kind->before] as $act) {
                $crew->act($act);
                if ('open' === $act) {
                    $this->original[$kind->name] = [
                        'gives' => $this->hash($made, ShopActs::GIVING),
                        'receives' => $this->hash($made, ShopActs::RECEIVING),
                    ];
                }
                $seen = $story = [];
                $isUnderWay = 'under way' === $this->standing($made);
                if ($isUnderWay && !$this->follow($crew, $made, [], $seen, $story)) {
                    throw new \RuntimeException($kind->name.': '.$act.' came to no end.');
                }
            }
            $crew->end();
        }
        Folder::remove($home);
        (new Process(['cp', '-a', $made, $home]))->mustRun();
    }

    /** What of an app lies on a phone, its database aside: that one is written to whenever it is opened. */
    private function list(string $home, string $serial): string
    {
        $data = self::phone($home, $serial)->data(ShopActs::APP);
        $list = '';
        foreach (is_dir($data) ? Folder::files($data) : [] as $path) {
            $list .= str_contains($path, '.sqlite') || str_contains($path, '.db')
                ? ''
                : $path.' '.(int) @filesize($data.'/'.$path)."\n";
        }

        return hash('xxh128', $list);
    }

    private function hash(string $home, string $serial): string
    {
        $phone = self::phone($home, $serial);
        $hash = hash_init('sha256');
        foreach ([ShopActs::APP, 'contacts'] as $app) {
            $data = $phone->data($app);
            foreach (is_dir($data) ? Folder::files($data) : [] as $path) {
                hash_update($hash, $path."\0".hash_file('sha256', $data.'/'.$path)."\n");
            }
        }

        return hash_final($hash);
    }

    private static function isFit(PhoneFolder $phone): bool
    {
        $state = $phone->state();

        return $state['plugged'] && $state['unlocked'] && $state['battery'] > 20 && $state['admitted']
            && $state['storage_total'] - $state['storage_other'] > self::ROOM
            && ('ios' === $state['platform'] || $state['debugging']);
    }

    private static function phone(string $home, string $serial): PhoneFolder
    {
        return new PhoneFolder($home.'/standin/phones/'.$serial);
    }
}
