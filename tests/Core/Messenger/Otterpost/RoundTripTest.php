<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** read(write(x)) = x, for chats that hold every awkward value there is. */
final class RoundTripTest extends TestCase
{
    use Scratch;
    use TestTrait;

    private int $run = 0;

    public function testAndroidGivesBackWhatItWasGiven(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed): void {
            $here = $this->path('a'.++$this->run);
            mkdir($here);
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', false);
            $this->assertSameChats($chats, Chats::through($chats, $here.'/files', Chats::format('android'), $here.'/out', $here.'/y.sqlite'), "seed $seed");
        });
    }

    public function testIosGivesBackWhatItWasGiven(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed): void {
            $here = $this->path('i'.++$this->run);
            mkdir($here);
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', true);
            $this->assertSameChats($chats, Chats::through($chats, $here.'/files', Chats::format('ios'), $here.'/out', $here.'/y.sqlite'), "seed $seed");
        });
    }

    public function testThereAndBackLosesNothingThatWasNotListed(): void
    {
        $this->limitTo(25)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed): void {
            $here = $this->path('b'.++$this->run);
            mkdir($here);
            $chats = Chats::random($seed, $here.'/x.sqlite', $here.'/files', false);
            Expectation::of(Chats::format('ios')->capabilities())->build($chats, $here.'/expected.sqlite', new NoProgress());
            $expected = new ChatStore($here.'/expected.sqlite');
            $onIos = Chats::through($expected, $here.'/files', Chats::format('ios'), $here.'/ios', $here.'/ios.sqlite');
            $back = Chats::through($onIos, $here.'/ios', Chats::format('android'), $here.'/android', $here.'/back.sqlite');
            $totals = (new Comparison($expected, $back))->run($here.'/result.sqlite', new NoProgress())->totals();
            self::assertTrue($totals->complete(), "seed $seed: ".json_encode($totals->toArray()));
        });
    }

    private function assertSameChats(ChatStore $expected, ChatStore $found, string $message): void
    {
        $rows = static function (ChatStore $chats): array {
            $rows = ['people' => iterator_to_array($chats->people(), false)];
            foreach ($chats->conversations() as $stored) {
                $key = $stored->conversation->key;
                $members = array_map(static fn ($m): array => $m->canonical(), $stored->conversation->members);
                sort($members);
                $rows[$key] = [$stored->conversation->settings(), $members, $stored->conversation->opaque];
                foreach ($chats->messages($stored->id) as $m) {
                    $rows[$key.'/'.$m->place] = [$m->message->wireId, $m->message->aspects()];
                }
            }

            return $rows;
        };
        [$a, $b] = [$rows($expected), $rows($found)];
        self::assertSame(array_keys($a), array_keys($b), $message);
        foreach ($a as $key => $row) {
            self::assertEquals($row, $b[$key], "$message at $key");
        }
        self::assertSame($expected->source()->account, $found->source()->account);
    }
}
