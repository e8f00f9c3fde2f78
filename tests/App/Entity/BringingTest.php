<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Entity;

use Geschenk\App\Entity\Aim;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Bringing;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Tray;
use Geschenk\Core\Arrival\Totals;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/**
 * What is brought onto a phone, in whatever order: what was done stays told, the way back leads to before the first of
 * those that complete one another, and what the phone held stays expected on it for as long.
 */
final class BringingTest extends TestCase
{
    private const SEEDS = 300;
    private const ACTS = 14;

    private int $copies = 0;
    private Tray $tray;
    private Move $move;

    protected function setUp(): void
    {
        $this->tray = new Tray(41, new Customer('Ada', '', 'en'), self::at(0), 'jette');
        $this->move = $this->tray->addMove('otterpost', 'Otterpost');
        $this->move->bringing()->isOf($this->copy());
    }

    public function testAPlanCanBeChangedAndWhatIsInPlaceCannot(): void
    {
        $bringing = $this->move->bringing();
        $bringing->bring(null, ['messages' => 1, 'bytes' => 1, 'left_out' => 0, 'without_file' => 0], false);
        $bringing->isOf($this->copy());
        self::assertNull($bringing->brings(), 'Counted in another backup.');
        $this->restore();
        foreach ([
            static fn () => $bringing->isOf(null), static fn () => $bringing->choose('poll', 'text'),
            static fn () => $bringing->rehearsed(null), static fn () => $bringing->restored(self::at(9), null),
        ] as $change) {
            try {
                $change();
                self::fail('What was put in place was changed.');
            } catch (\LogicException $error) {
                self::assertStringContainsString('not changed any more', $error->getMessage());
            }
        }
    }

    public function testReplacedInTheMiddleTheWayBackStillLeadsToBeforeTheFirst(): void
    {
        $first = $this->restore(isMerged: true);
        $this->move->bringMissing();
        $missing = $this->move->bringing();
        self::assertSame([$first->id], $missing->expectsBeside());
        $missing->bring(null, ['messages' => 1, 'bytes' => 1, 'left_out' => 0, 'without_file' => 0], false);
        self::assertFalse($missing->completes());
        self::assertSame([], $missing->expectsBeside(), 'What is replaced is expected by nobody.');
        $this->restore();
        self::assertSame($first, $missing->wayBack());
        $this->move->putBack(self::at(3));
        self::assertFalse($this->move->bringing()->isOnPhone());
        self::assertNotNull($this->move->bringings()[0]->putBackAt());
    }

    public function testACompletionThatIsNotThereYetCanBePutBackAsWhatItCompletes(): void
    {
        $copy = $this->restore();
        $this->move->bringMissing();
        self::assertFalse($this->move->bringing()->isInPlace());
        self::assertTrue($this->move->bringing()->isOnPhone(), 'What it completes is there.');
        self::assertTrue($this->tray->hasRestored(), 'So the roles are not turned.');
        self::assertSame($copy, $this->move->bringing()->wayBack());
    }

    /**
     * By seed: nothing that was done is told otherwise later, and the newest says what is so.
     */
    public function testWhateverIsDoneInWhateverOrder(): void
    {
        for ($seed = 1; $seed <= self::SEEDS; ++$seed) {
            $this->setUp();
            $dice = new Randomizer(new Mt19937($seed));
            /** @var list<Backup> $chain safety copies of what completes one another on the phone now */
            $chain = [];
            $expected = [];
            $told = [];
            for ($n = 0; $n < self::ACTS; ++$n) {
                $newest = $this->move->bringing();
                switch ($dice->getInt(0, 5)) {
                    case 0:
                    case 1:
                        if (!$newest->isInPlace()) {
                            $merges = $newest->completes() || 1 === $dice->getInt(0, 1);
                            $newest->bring(
                                null, ['messages' => 1, 'bytes' => 1, 'left_out' => 0, 'without_file' => 0], $merges,
                            );
                            $copy = $this->restore($merges);
                            $chain[] = $copy;
                            $expected = $merges ? [...$expected, $copy->id] : [];
                        }
                        break;
                    case 2:
                        if ($newest->isInPlace()) {
                            $this->move->bringMissing();
                        }
                        break;
                    case 3:
                        if ($newest->isInPlace()) {
                            $this->move->bringRest(
                                null, ['messages' => 2, 'bytes' => 1, 'left_out' => 0, 'without_file' => 0],
                            );
                        }
                        break;
                    case 4:
                        if ($newest->isOnPhone()) {
                            $this->move->putBack(self::at($n));
                            $chain = $expected = [];
                        }
                        break;
                    default:
                        $this->move->bringOnceMore(self::at($n));
                        $chain = $expected = [];
                }
                $now = $this->move->bringing();
                self::assertSame($chain[0] ?? null, $now->isOnPhone() ? $now->wayBack() : null, "seed $seed, act $n");
                self::assertSame([] !== $chain, $now->isOnPhone());
                self::assertSame($expected, $now->isInPlace() ? $now->keeps() : $now->expectsBeside(), "seed $seed");
                foreach ($chain as $copy) {
                    self::assertTrue($this->isNeeded($copy), 'What can be put back from is kept.');
                }
                foreach ($told as $number => $is) {
                    self::assertSame($is, self::done($this->move->bringings()[$number]), 'Only written on.');
                }
                $told = array_map(self::done(...), array_filter(
                    $this->move->bringings(), static fn (Bringing $one): bool => null !== $one->restoredAt(),
                ));
            }
            $numbers = array_map(static fn (Bringing $one): int => $one->number, $this->move->bringings());
            self::assertSame(range(1, count($numbers)), $numbers);
        }
    }

    public function testWhatItWasBegunForIsTold(): void
    {
        $this->restore();
        $this->move->bringRest(null, ['messages' => 2, 'bytes' => 1, 'left_out' => 0, 'without_file' => 0]);
        $this->restore(isMerged: true);
        $this->move->bringMissing();
        $this->move->bringOnceMore(self::at(5));
        self::assertSame(
            [Aim::Whole, Aim::Rest, Aim::Missing, Aim::OnceMore],
            array_map(static fn (Bringing $one): Aim => $one->aim, $this->move->bringings()),
        );
        self::assertNull($this->move->bringing()->onTopOf, 'Once more is on top of nothing.');
        self::assertNotNull($this->move->backup());
    }

    private function restore(bool $isMerged = false): Backup
    {
        $copy = $this->copy();
        $totals = new Totals(1, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0);
        $this->move->bringing()->rehearsed([
            'choices' => [], 'scope' => null, 'judged_at' => 0, 'backup' => 'b', 'platform' => 'ios',
            'merged_with' => $isMerged ? $copy->id : null, 'losses' => [], 'attachments_absent' => 0,
            'totals' => $totals->toArray(),
        ]);
        $this->move->bringing()->restored(self::at($this->copies), $copy);

        return $copy;
    }

    private function isNeeded(Backup $copy): bool
    {
        foreach ($this->move->bringings() as $bringing) {
            if ($bringing->needs($copy)) {
                return true;
            }
        }

        return false;
    }

    /** @return array{\DateTimeImmutable|null, Backup|null, list<string>, array<string, string>} what stays as it is */
    private static function done(Bringing $bringing): array
    {
        return [$bringing->restoredAt(), $bringing->safetyCopy(), $bringing->keeps(), $bringing->choices()];
    }

    private function copy(): Backup
    {
        ++$this->copies;

        return new Backup(
            "copy $this->copies", $this->copies, $this->tray, 'S', 'otterpost', 'Otterpost', 'cable',
            self::at($this->copies), '', 0, 0, 0, 0, 0, null,
        );
    }

    private static function at(int $second): \DateTimeImmutable
    {
        return new \DateTimeImmutable('@'.(1_700_000_000 + $second));
    }
}
