<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Conversion;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Conversion\LossRules;
use Geschenk\Core\Conversion\UnknownChoice;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoredMessage;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Each loss rule on one message that it touches and on one that is next to it and goes free. */
final class RulesTest extends TestCase
{
    use Scratch;

    private const NOW = 1_795_192_800_000;

    /**
     * @return iterable<string, array{
     *     string, string, Message, Message|null, Message,
     * }> rule, target, touched, what of it arrives, not touched
     */
    public static function messages(): iterable
    {
        $m = static function (mixed ...$more): Message {
            /** @var array<string, mixed> $more by name */
            return Chats::text('words', 1_700_000_000_000, 'W')->with($more);
        };
        $still = new Attachment('a', null, 'image/jpeg', 5, str_repeat('a', 64), Presence::Present);
        $film = new Attachment('b', null, 'video/mp4', 5, str_repeat('b', 64), Presence::Present, isMotion: true);
        $quote = new Quote(null, true, Kind::Text, 'gone', 5);
        yield 'a lifetime that has run out' => [
            'expired', 'android', $m(expiresAt: self::NOW), null, $m(expiresAt: self::NOW + 1),
        ];
        yield 'words of a deleted message' => [
            'kept_although_deleted', 'ios', $m(kind: Kind::Deleted, content: new Deletion(null, 5)),
            $m(kind: Kind::Deleted, content: new Deletion(null, 5), text: null), $m(kind: Kind::Deleted, text: null),
        ];
        yield 'who heard it when' => [
            'heard_time', 'ios', $m(receipts: [new Receipt('p', 1, 2, 3)]),
            $m(receipts: [new Receipt('p', 1, 2, null)]), $m(receipts: [new Receipt('p-5]', 1, 2, null)]),
        ];
        yield 'a show' => ['send_effect', 'android', $m(effect: 'lanterns'), $m(), $m(text: '"effect":')];
        yield 'the film beside a still' => [
            'motion_part', 'android', $m(attachments: [$still, $film]), $m(attachments: [$still]),
            $m(attachments: [$still]),
        ];
        yield 'words of what is gone' => [
            'quote_of_gone', 'android', $m(replyTo: 'GONE', quote: $quote), $m(replyTo: 'GONE'), $m(replyTo: 'GONE'),
        ];
        yield 'an unknown kind' => [
            'unknown_kind', 'ios', $m(kind: Kind::Unknown, opaque: ['otterpost-android:slip.sort' => 71]),
            $m(kind: Kind::Unknown, opaque: ['otterpost-android:slip.sort' => 71]),
            $m(kind: Kind::Unknown, opaque: ['otterpost-ios:ZSLIP.ZSORT' => 40]),
        ];
        yield 'an unknown detail' => [
            'unknown_detail', 'android', $m(opaque: ['otterpost-ios:x' => 1]), $m(opaque: ['otterpost-ios:x' => 1]),
            $m(opaque: ['otterpost-android:x' => 1]),
        ];
    }

    #[DataProvider('messages')]
    public function testAMessage(string $rule, string $target, Message $touched, ?Message $arrives, Message $free): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($touched, $free): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, $touched);
            $w->message($id, $free->with(['wireId' => 'FREE']));
        });
        $losses = Expectation::of(
            Chats::format($target)->capabilities(), self::NOW,
        )->build($chats, $this->path('e.sqlite'), new NoProgress());
        self::assertSame(
            [[$rule, 1, 1]], array_map(static fn ($l): array => [$l->rule, $l->messages, $l->conversations], $losses),
        );
        [$first, $second] = $this->first(new ChatStore($this->path('e.sqlite')));
        self::assertSame([[$rule], []], [$first->rules, $second->rules]);
        self::assertSame(
            [null === $arrives ? Fate::LeftOut : Fate::Changed, Fate::Whole], [$first->fate, $second->fate],
        );
        self::assertEquals($arrives ?? $touched, $first->message);
        self::assertEquals($free->with(['wireId' => 'FREE']), $second->message);
        // On the other platform the rule may have nothing to do, and then it does nothing.
        @unlink($this->path('e.sqlite'));
    }

    public function testTheWordsOfWhatIsGoneAreKeptWhereTheyCanBe(): void
    {
        $answer = Chats::text('words', 1_700_000_000_000, 'W')->with(
            ['replyTo' => 'GONE', 'quote' => new Quote(null, true, Kind::Text, 'gone', 5)],
        );
        $chats = Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), $answer),
        );
        self::assertSame(
            [],
            Expectation::of(Chats::format('ios')->capabilities(), self::NOW)->build(
                $chats, $this->path('e.sqlite'), new NoProgress(),
            ),
        );
        $back = Chats::through(
            new ChatStore($this->path('e.sqlite')), $this->path(), Chats::format('ios'), $this->path('to'),
            $this->path('back.sqlite'),
        );
        self::assertEquals($answer->quote, $this->first($back)[0]->message->quote);
    }

    public function testATimeFarOffIsRoundedWhereItsNumberEndsAndNowhereElse(): void
    {
        $far = 2_000_000_000_000_001;
        foreach (['ios' => [['far_time', 1, 1]], 'android' => []] as $target => $lost) {
            $chats = Chats::store($this->path("$target.sqlite"), static function (StoreWriter $w) use ($far): void {
                $id = $w->conversation(Chats::direct());
                $w->message($id, Chats::text('far', 1_700_000_000_000, 'F')->with(['editedAt' => $far]));
                $w->message($id, Chats::text('near', $far - 6, 'N'));
            });
            $losses = Expectation::of(Chats::format($target)->capabilities(), self::NOW)->build(
                $chats, $this->path("$target-e.sqlite"), new NoProgress(),
            );
            self::assertSame(
                $lost, array_map(static fn ($l): array => [$l->rule, $l->messages, $l->conversations], $losses),
            );
            [$first, $second] = $this->first(new ChatStore($this->path("$target-e.sqlite")));
            self::assertSame([$far - 6, $far - 1], [$second->message->sentAt, $second->message->receivedAt]);
            self::assertSame('android' === $target, $far === $first->message->editedAt);
            self::assertEqualsWithDelta($far, $first->message->editedAt, 128_000);
        }
    }

    /** Each place in which a time can stand, far in the future and far in the past. */
    public function testEveryFarTimeGoesToItsStepAndEveryNearOneStays(): void
    {
        $exact = Chats::format('ios')->capabilities()->exactTimes ?? self::fail();
        foreach ([
            [9_000_000_000_000_001, 9_000_000_000_000_000], [-9_000_000_000_000_001, -9_000_000_000_000_000],
            [$exact, $exact],
        ] as $n => [$time, $near]) {
            $chats = Chats::store(
                $this->path("$n.sqlite"), static fn (StoreWriter $w) => self::timesEverywhere($w, $time),
            );
            $losses = Expectation::of(Chats::format('ios')->capabilities(), self::NOW)->build(
                $chats, $this->path("$n-e.sqlite"), new NoProgress(),
            );
            self::assertSame(
                $time === $near ? [] : [['far_time', 12, 1]],
                array_map(static fn ($l): array => [$l->rule, $l->messages, $l->conversations], $losses),
            );
            $meant = Chats::store(
                $this->path("$n-m.sqlite"), static fn (StoreWriter $w) => self::timesEverywhere($w, $near),
            );
            $plan = new ChatStore($this->path("$n-e.sqlite"));
            self::assertEquals(
                $meant->conversation('+447700900002')?->conversation,
                $plan->conversation('+447700900002')?->conversation,
            );
            foreach ($this->first($plan) as $place => $stored) {
                self::assertEquals($this->first($meant)[$place]->message, $stored->message, "message $place");
            }
        }
    }

    private static function timesEverywhere(StoreWriter $w, int $time): void
    {
        $member = new Member('p', MemberRole::Member, $time, $time);
        $id = $w->conversation(
            Chats::direct()->with(['createdAt' => $time, 'mutedUntil' => $time, 'members' => [$member]]),
        );
        $film = new Attachment('a', null, 'video/mp4', 5, str_repeat('a', 64), Presence::Present, $time);
        $votes = [['who' => 'p', 'at' => $time], ['who' => null, 'at' => null]];
        $messages = [
            ['sentAt' => $time], ['receivedAt' => $time], ['editedAt' => $time], ['expiresAt' => abs($time)],
            ['reactions' => [new Reaction('p', '!', $time)]], ['receipts' => [new Receipt('p', $time, $time, null)]],
            ['replyTo' => 'GONE', 'quote' => new Quote('p', false, Kind::Text, 'x', $time)], ['attachments' => [$film]],
            ['kind' => Kind::LivePlace, 'content' => new Place(1.5, 2.5, 'n', 'a', $time)],
            ['kind' => Kind::Deleted, 'text' => null, 'content' => new Deletion('p', $time)],
            ['kind' => Kind::Call, 'content' => new Call(true, CallOutcome::cases()[0], $time)],
            ['kind' => Kind::Poll, 'content' => new Poll(true, $time, [['text' => 'a', 'votes' => $votes]])],
        ];
        foreach ($messages as $n => $with) {
            $w->message($id, Chats::text('words', 1_700_000_000_000, "W$n")->with($with));
        }
    }

    public function testAFilmMayGoBesideItsStill(): void
    {
        $touched = self::messages();
        $message = iterator_to_array($touched)['the film beside a still'][2];
        $chats = Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), $message),
        );
        Expectation::of(
            Chats::format('android')->capabilities(), self::NOW, ['motion_part' => 'as_two'],
        )->build($chats, $this->path('e.sqlite'), new NoProgress());
        $attachments = $this->first(new ChatStore($this->path('e.sqlite')))[0]->message->attachments;
        self::assertSame([false, false], array_map(static fn (Attachment $a): bool => $a->isMotion, $attachments));
    }

    public function testSeveralRulesOnOneMessageAreAllNamed(): void
    {
        $chats = Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(Chats::direct()),
                Chats::text('x', wireId: 'W')->with(
                    [
                        'effect' => 'lanterns', 'replyTo' => 'GONE',
                        'quote' => new Quote(null, true, Kind::Text, 'x', 1), 'opaque' => ['elsewhere:a' => 1],
                    ],
                ),
            ),
        );
        Expectation::of(
            Chats::format('android')->capabilities(), self::NOW,
        )->build($chats, $this->path('e.sqlite'), new NoProgress());
        $stored = $this->first(new ChatStore($this->path('e.sqlite')))[0];
        self::assertSame(['send_effect', 'quote_of_gone', 'unknown_detail'], $stored->rules);
        self::assertNull($stored->message->effect);
        self::assertNull($stored->message->quote);
    }

    public function testWhatIsLeftOutIsNoOtherRulesAffair(): void
    {
        $chats = Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(Chats::direct()),
                Chats::text('x', wireId: 'W')->with(['effect' => 'lanterns', 'expiresAt' => 5]),
            ),
        );
        $losses = Expectation::of(
            Chats::format('android')->capabilities(), self::NOW,
        )->build($chats, $this->path('e.sqlite'), new NoProgress());
        self::assertSame(['expired'], array_map(static fn ($l): string => $l->rule, $losses));
        self::assertSame(['expired'], $this->first(new ChatStore($this->path('e.sqlite')))[0]->rules);
    }

    public function testAHiddenConversationArrivesInSightOrNotAtAll(): void
    {
        $chats = Chats::store(
            $this->path('x.sqlite'),
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(
                    new Conversation(
                        'h', ConversationKind::Direct, null, null, null, false, null, null, 0, null, [], hidden: true,
                    ),
                ),
                Chats::text('x'),
            ),
        );
        foreach ([
            'as_archived' => [Fate::Changed, false, true], 'left_out' => [Fate::LeftOut, false, true],
        ] as $choice => $expected) {
            @unlink($this->path('e.sqlite'));
            Expectation::of(
                Chats::format('ios')->capabilities(), self::NOW, ['hidden_conversation' => $choice],
            )->build($chats, $this->path('e.sqlite'), new NoProgress());
            $stored = (new ChatStore($this->path('e.sqlite')))->conversation('h') ?? self::fail();
            self::assertSame(
                $expected, [$stored->fate, $stored->conversation->hidden, $stored->conversation->archived],
            );
        }
    }

    public function testChoicesThatNobodyOffersAreRefused(): void
    {
        foreach ([['broadcast_list' => 'burnt'], ['nothing' => 'left_out'], ['heard_time' => 'kept']] as $choices) {
            try {
                Expectation::of(Chats::format('ios')->capabilities(), null, $choices);
                self::fail('It was taken: '.key($choices));
            } catch (UnknownChoice $error) {
                self::assertStringStartsWith('unknown_', $error->reason);
            }
        }
    }

    public function testOnlyWhatIsAMatterOfTasteIsAChoice(): void
    {
        $choices = [];
        foreach (LossRules::all() as $rule) {
            if (count($rule->choices()) > 1) {
                $choices[$rule->name()] = array_map(static fn ($c): string => $c->key, $rule->choices());
            }
        }
        self::assertSame(['broadcast_list', 'hidden_conversation', 'motion_part'], array_keys($choices));
        self::assertSame(DeliveryState::Read, DeliveryState::from('read'));
    }

    /** @return list<StoredMessage> of the first conversation */
    private function first(ChatStore $chats): array
    {
        foreach ($chats->conversations() as $conversation) {
            return iterator_to_array($chats->messages($conversation->id), false);
        }
        self::fail('There is no conversation.');
    }
}
