<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** read(write(x)) = x, for chats that hold every awkward value there is. */
final class RoundTripTest extends TestCase
{
    use Scratch;
    use TestTrait;

    /** 2026-11-20: what expires before it has run out. */
    private const NOW = 1_795_192_800_000;

    private int $run = 0;

    #[DataProvider('platforms')]
    public function testAFormatGivesBackWhatItWasGiven(string $platform): void
    {
        $this->limitTo(60)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            $here = $this->here();
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', $platform);
            $this->assertSameChats(
                $chats,
                Chats::through($chats, $here.'/files', Chats::format($platform), $here.'/out', $here.'/y.sqlite'),
                "seed $seed",
            );
        });
    }

    #[DataProvider('platforms')]
    public function testWhatAFormatCannotHoldIsListedAndTheRestArrives(string $platform): void
    {
        $this->limitTo(100)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            $here = $this->here();
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', null);
            // Every choice there is comes up.
            $choices = [];
            foreach (LossRules::all() as $n => $rule) {
                $choices[$rule->name()] = $rule->choices()[($seed >> $n) % count($rule->choices())]->key;
            }
            $losses = Expectation::of(
                Chats::format($platform)->capabilities(), self::NOW, $choices,
            )->build($chats, $here.'/e.sqlite', new NoProgress());
            $expected = new ChatStore($here.'/e.sqlite');
            $found = Chats::through(
                $expected, $here.'/files', Chats::format($platform), $here.'/out', $here.'/y.sqlite',
            );
            $result = (new Comparison($expected, $found))->run($here.'/result.sqlite', new NoProgress());
            $totals = $result->totals();
            self::assertTrue(
                $totals->complete(),
                "seed $seed: ".json_encode(
                    [
                        $totals,
                        array_filter($result->conversations(), static fn (array $c): bool => [] !== $c['settings']),
                        $result->reasons(), $result->account(),
                    ],
                ),
            );
            self::assertSame($chats->messageCount(), $totals->messages, "seed $seed");
            $listed = array_sum(array_map(static fn ($loss): int => $loss->messages, $losses));
            self::assertGreaterThanOrEqual($totals->changed + $totals->leftOut, $listed, "seed $seed");
        });
    }

    public function testThereAndBackLosesNothingThatWasNotListed(): void
    {
        $this->limitTo(40)->forAll(
            Generators::choose(1, 1_000_000), Generators::elements('ios', 'android'),
        )->then(function (int $seed, string $away): void {
            $here = $this->here();
            $home = 'ios' === $away ? 'android' : 'ios';
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', $home);
            Expectation::of(Chats::format($away)->capabilities(), self::NOW)->build(
                $chats, $here.'/expected.sqlite', new NoProgress(),
            );
            $expected = new ChatStore($here.'/expected.sqlite');
            $thatWay = Chats::through(
                $expected, $here.'/files', Chats::format($away), $here.'/away', $here.'/away.sqlite',
            );
            Expectation::of(Chats::format($home)->capabilities(), self::NOW)->build(
                $thatWay, $here.'/back-expected.sqlite', new NoProgress(),
            );
            $back = Chats::through(
                new ChatStore($here.'/back-expected.sqlite'), $here.'/away', Chats::format($home), $here.'/home',
                $here.'/back.sqlite',
            );
            $result = (new Comparison($expected, $back))->run($here.'/result.sqlite', new NoProgress());
            self::assertTrue(
                $result->totals()->complete(), "seed $seed: ".json_encode([$result->totals(), $result->reasons()]),
            );
        });
    }

    #[DataProvider('platforms')]
    public function testConvertingTwiceGivesTheSameBytesAndTheSameTally(string $platform): void
    {
        $this->limitTo(15)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            $here = $this->here();
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', null);
            $seen = [];
            foreach ([1, 2] as $turn) {
                $losses = Expectation::of(
                    Chats::format($platform)->capabilities(), self::NOW,
                )->build($chats, $here."/e$turn.sqlite", new NoProgress());
                Chats::through(
                    new ChatStore($here."/e$turn.sqlite"), $here.'/files', Chats::format($platform), $here."/out$turn",
                    $here."/y$turn.sqlite",
                );
                $bytes = [];
                foreach (\Geschenk\Core\Files\Durable\Folder::files($here."/out$turn") as $file) {
                    $bytes[$file] = hash_file('sha256', $here."/out$turn/$file");
                }
                $seen[] = [$bytes, array_map(static fn ($loss): array => $loss->toArray(), $losses)];
            }
            self::assertSame($seen[0], $seen[1], "seed $seed");
        });
    }

    /** @return iterable<string, array{string}> */
    public static function platforms(): iterable
    {
        yield 'Android' => ['android'];
        yield 'iOS' => ['ios'];
    }

    private function here(): string
    {
        $here = $this->path('r'.++$this->run);
        mkdir($here);

        return $here;
    }

    private function assertSameChats(ChatStore $expected, ChatStore $found, string $message): void
    {
        $rows = static function (ChatStore $chats): array {
            $rows = [
                'people' => iterator_to_array($chats->people(), false), 'labels' => $chats->labels(),
                'answers' => $chats->cannedAnswers(),
            ];
            foreach ($chats->conversations() as $stored) {
                $key = $stored->conversation->key;
                $members = array_map(static fn ($m): array => $m->canonical(), $stored->conversation->members);
                sort($members);
                $rows[$key] = [$stored->conversation->settings(), $members, $stored->conversation->opaque];
                foreach ($chats->messages($stored->id) as $m) {
                    $rows[$key.'/'.$m->place] = array_combine(MessageRow::COLUMNS, MessageRow::values($m->message));
                }
            }

            return $rows;
        };
        [$a, $b] = [$rows($expected), $rows($found)];
        self::assertSame(array_keys($a), array_keys($b), $message);
        foreach ($a as $key => $row) {
            self::assertEquals($row, $b[$key], "$message at $key");
        }
        self::assertSame(
            [$expected->source()->account, $expected->source()->edition],
            [$found->source()->account, $found->source()->edition],
        );
    }
}
