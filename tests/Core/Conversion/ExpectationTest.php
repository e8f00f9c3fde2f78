<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Conversion;

use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class ExpectationTest extends TestCase
{
    use Scratch;

    public function testEachRuleIsCountedAndTouchesOnlyWhatItNames(): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $group = $w->conversation(new Conversation('g', ConversationKind::Group, 'G', null, null, false, null, null, 0, 'comb', []));
            $w->message($group, Chats::text('plain', wireId: 'P'));
            $w->message($group, new Message('V', null, true, Kind::Voice, null, 1, null, DeliveryState::Read, receipts: [new Receipt('a', 1, 2, 3), new Receipt('b', 1, null, null)]));
            $w->message($group, new Message('K', null, true, Kind::Unknown, 'x', 1, null, DeliveryState::Read, opaque: ['otterpost-android:slip.sort' => 71]));
            $w->message($group, new Message('D', null, true, Kind::Text, 'x', 1, null, DeliveryState::Read, opaque: ['otterpost-android:slip.shimmer' => 'a']));
            $list = $w->conversation(new Conversation('l', ConversationKind::Broadcast, 'L', null, null, false, null, null, 0, null, []));
            $w->message($list, Chats::text('to all', wireId: 'L'));
        });
        $losses = Expectation::of(Chats::format('ios')->capabilities())->build($chats, $this->path('e.sqlite'), new NoProgress());
        $counts = [];
        foreach ($losses as $loss) {
            $counts[$loss->rule] = [$loss->messages, $loss->conversations, $loss->choice->key, $loss->example, $loss->exampleKind];
        }
        self::assertSame([
            'broadcast_list' => [1, 1, 'left_out', 'l', null], 'heard_time' => [1, 1, 'changed', 'g', 'voice'], 'wallpaper' => [0, 1, 'changed', 'g', null], 'unknown_kind' => [1, 1, 'changed', 'g', 'unknown'], 'unknown_detail' => [1, 1, 'changed', 'g', 'text'],
        ], $counts);

        $expected = new ChatStore($this->path('e.sqlite'));
        $group = $expected->conversation('g') ?? self::fail();
        self::assertNull($group->conversation->wallpaper);
        $fates = [];
        foreach ($expected->messages($group->id) as $m) {
            $fates[(string) $m->message->wireId] = [$m->fate, $m->rules];
            if ('V' === $m->message->wireId) {
                self::assertEquals([new Receipt('a', 1, 2, null), new Receipt('b', 1, null, null)], $m->message->receipts);
            }
        }
        self::assertSame(['P' => [Fate::Whole, []], 'V' => [Fate::Changed, ['heard_time']], 'K' => [Fate::Changed, ['unknown_kind']], 'D' => [Fate::Changed, ['unknown_detail']]], $fates);
        self::assertSame(Fate::LeftOut, $expected->conversation('l')?->fate);
    }

    public function testTheOwnPlatformLosesNothing(): void
    {
        $chats = Chats::random(3, $this->path('x.sqlite'), $this->path('files'), 'android');
        $losses = Expectation::of(Chats::format('android')->capabilities())->build($chats, $this->path('e.sqlite'), new NoProgress());
        self::assertSame([], array_diff(array_map(static fn ($l): string => $l->rule, $losses), ['unknown_detail', 'unknown_kind']));
    }

    public function testEveryRuleHasANameAndASentence(): void
    {
        foreach (LossRules::all() as $rule) {
            self::assertMatchesRegularExpression('/^[a-z_]+$/', $rule->name());
            self::assertStringEndsWith('.', $rule->sentence());
        }
    }
}
