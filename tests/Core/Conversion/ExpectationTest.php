<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Conversion;

use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\RecordedProgress;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ExpectationTest extends TestCase
{
    use Scratch;

    public function testEachRuleIsCountedAndTouchesOnlyWhatItNames(): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $group = $w->conversation(
                new Conversation('g', ConversationKind::Group, 'G', null, null, false, null, null, 0, 'comb', []),
            );
            $w->message($group, Chats::text('plain', wireId: 'P'));
            $w->message(
                $group,
                new Message(
                    'V', null, true, Kind::Voice, null, 1, null, DeliveryState::Read,
                    receipts: [new Receipt('a', 1, 2, 3), new Receipt('b', 1, null, null)],
                ),
            );
            $w->message(
                $group,
                new Message(
                    'K', null, true, Kind::Unknown, 'x', 1, null, DeliveryState::Read,
                    opaque: ['otterpost-android:slip.sort' => 71],
                ),
            );
            $w->message(
                $group,
                new Message(
                    'D', null, true, Kind::Text, 'x', 1, null, DeliveryState::Read,
                    opaque: ['otterpost-android:slip.shimmer' => 'a'],
                ),
            );
            $list = $w->conversation(
                new Conversation('l', ConversationKind::Broadcast, 'L', null, null, false, null, null, 0, null, []),
            );
            $w->message($list, Chats::text('to all', wireId: 'L'));
        });
        $losses = Expectation::of(Chats::format('ios')->capabilities())->build(
            $chats, $this->path('e.sqlite'), new NoProgress(),
        );
        $counts = [];
        foreach ($losses as $loss) {
            $counts[$loss->rule] = [
                $loss->messages, $loss->conversations, $loss->choice->key, $loss->example, $loss->exampleKind,
            ];
        }
        self::assertSame([
            'broadcast_list' => [1, 1, 'left_out', 'l', null], 'heard_time' => [
                1, 1, 'changed', 'g', 'voice',
            ], 'wallpaper' => [0, 1, 'changed', 'g', null], 'unknown_kind' => [
                1, 1, 'changed', 'g', 'unknown',
            ], 'unknown_detail' => [1, 1, 'changed', 'g', 'text'],
        ], $counts);

        $expected = new ChatStore($this->path('e.sqlite'));
        $group = $expected->conversation('g') ?? self::fail();
        self::assertNull($group->conversation->wallpaper);
        $fates = [];
        foreach ($expected->messages($group->id) as $m) {
            $fates[(string) $m->message->wireId] = [$m->fate, $m->rules];
            if ('V' === $m->message->wireId) {
                self::assertEquals(
                    [new Receipt('a', 1, 2, null), new Receipt('b', 1, null, null)], $m->message->receipts,
                );
            }
        }
        self::assertSame(
            [
                'P' => [Fate::Whole, []], 'V' => [Fate::Changed, ['heard_time']],
                'K' => [Fate::Changed, ['unknown_kind']], 'D' => [Fate::Changed, ['unknown_detail']],
            ],
            $fates,
        );
        self::assertSame(Fate::LeftOut, $expected->conversation('l')?->fate);
    }

    public function testTheOwnPlatformLosesNothing(): void
    {
        $chats = Chats::random(3, $this->path('x.sqlite'), $this->path('files'), 'android');
        $losses = Expectation::of(Chats::format('android')->capabilities())->build(
            $chats, $this->path('e.sqlite'), new NoProgress(),
        );
        self::assertSame(
            [], array_diff(array_map(static fn ($l): string => $l->rule, $losses), ['unknown_detail', 'unknown_kind']),
        );
    }

    public function testEveryRuleHasAName(): void
    {
        foreach (LossRules::all() as $rule) {
            self::assertMatchesRegularExpression('/^[a-z_]+$/', $rule->name());
        }
    }

    /**
     * @return iterable<string, array{
     *     string, bool, bool, string,
     * }> edition, with labels, with answers, and what it becomes
     */
    public static function editions(): iterable
    {
        yield 'the ordinary one' => ['Otterpost', false, false, 'Otterpost'];
        yield 'the business one' => ['Otterpost Counter', false, false, 'Otterpost Counter'];
        yield 'nobody knows it' => ['Heronpost', false, false, 'Otterpost'];
        yield 'nobody knows it, and it has labels' => ['Heronpost', true, false, 'Otterpost Counter'];
        yield 'nobody knows it, and it has answers' => ['Heronpost', false, true, 'Otterpost Counter'];
        yield 'nobody knows it, and it has both' => ['Heronpost', true, true, 'Otterpost Counter'];
    }

    #[DataProvider('editions')]
    public function testThePlanNamesTheEditionAndItsMoment(
        string $edition,
        bool $labels,
        bool $answers,
        string $becomes,
    ): void {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($labels, $answers): void {
            if ($labels) {
                $w->label(new Label('Paid', 1));
            }
            if ($answers) {
                $w->cannedAnswer(new CannedAnswer('/y', 'Yes.'));
            }
            $w->conversation(
                new Conversation('l', ConversationKind::Broadcast, 'L', null, 77, false, null, null, 0, null, []),
            );
        }, 'android', $edition);
        foreach (['left_out', 'as_notice'] as $choice) {
            $path = $this->path($choice.'.sqlite');
            Expectation::of(
                Chats::format('ios')->capabilities(), 1_795_192_800_123, ['broadcast_list' => $choice],
            )->build($chats, $path, new NoProgress());
            $plan = new ChatStore($path);
            self::assertSame([$becomes, 1_795_192_800_123], [$plan->source()->edition, $plan->judgedAt()]);
            self::assertFileDoesNotExist($path.'.plan');
        }
    }

    public function testProgressIsToldByMessages(): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            foreach (['a', 'b', 'c'] as $text) {
                $w->message($id, Chats::text($text));
            }
        });
        $progress = new RecordedProgress();
        Expectation::of(Chats::format('ios')->capabilities())->build($chats, $this->path('e.sqlite'), $progress);
        self::assertSame(['planning' => [3, 0, 3, 0]], $progress->phases);
    }

    public function testNothingIsPutWhereSomethingIs(): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static fn (StoreWriter $w) => $w->conversation(Chats::direct()));
        file_put_contents($this->path('e.sqlite'), 'somebody else’s');
        try {
            Expectation::of(Chats::format('ios')->capabilities())->build(
                $chats, $this->path('e.sqlite'), new NoProgress(),
            );
            self::fail('It was written over.');
        } catch (\RuntimeException) {
            self::assertSame('somebody else’s', file_get_contents($this->path('e.sqlite')));
        }
    }

    /** The first message is the example, or the first conversation where no message is touched. */
    public function testAMessageIsABetterExampleThanAConversation(): void
    {
        $detail = ['elsewhere:x' => 1];
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($detail): void {
            $w->conversation(Chats::direct('a')->with(['opaque' => $detail, 'wallpaper' => 'comb']));
            $w->conversation(Chats::direct('b')->with(['opaque' => $detail, 'wallpaper' => 'dusk']));
            foreach (['c' => 5_000, 'd' => 6_000] as $key => $time) {
                $id = $w->conversation(Chats::direct($key));
                $w->message($id, Chats::text('free', $time, 'F'.$key));
                $w->message($id, Chats::text('touched', $time + 1, 'T'.$key)->with(['opaque' => $detail]));
                $w->message($id, Chats::text('touched', $time + 2, 'U'.$key)->with(['opaque' => $detail]));
            }
        });
        $losses = [];
        foreach (Expectation::of(Chats::format('ios')->capabilities())->build(
            $chats, $this->path('e.sqlite'), new NoProgress(),
        ) as $loss) {
            $losses[$loss->rule] = $loss->toArray();
        }
        self::assertSame(['wallpaper', 'unknown_detail'], array_keys($losses));
        self::assertSame(['conversation' => 'a', 'kind' => null, 'sent_at' => null], $losses['wallpaper']['example']);
        self::assertSame(
            ['conversation' => 'c', 'kind' => 'text', 'sent_at' => 5_001], $losses['unknown_detail']['example'],
        );
        self::assertSame([4, 4], [$losses['unknown_detail']['messages'], $losses['unknown_detail']['conversations']]);
        $loss = new Loss('r', new Choice('k', Outcome::Changed), [], 0, 0, null, null, null);
        self::assertNull($loss->toArray()['example']);
    }
}
