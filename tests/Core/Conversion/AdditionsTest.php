<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Conversion;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Arrival\Verdict;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** A broadcast list that goes to everybody who was on it, or leaves a notice. */
final class AdditionsTest extends TestCase
{
    use Scratch;

    private const ADA = '+447700900002';
    private const BO = '+447700900003';

    public function testEachMessageGoesIntoEachConversationAtItsTime(): void
    {
        $expected = $this->plan('as_conversations');
        self::assertSame(['before', 'news 1', 'between', 'news 2', 'after'], $this->texts($expected, self::ADA));
        // Somebody the owner never talked to directly gets a conversation.
        self::assertSame(['news 1', 'news 2'], $this->texts($expected, self::BO));
        $copies = [];
        foreach ($expected->messages($expected->conversation(self::ADA)->id ?? 0) as $stored) {
            if (Fate::Added === $stored->fate) {
                $copies[] = [
                    array_map(static fn (Receipt $r): string => $r->personKey, $stored->message->receipts),
                    $stored->origin,
                ];
            }
        }
        $list = $expected->conversation('list') ?? self::fail();
        [$first] = $expected->range($list->id);
        self::assertSame(
            [[[self::ADA], $first], [[self::ADA], $first + 1]], $copies,
            'Only the receipts of the one it goes to, and where it comes from.',
        );
        self::assertSame(Fate::Spread, $list->fate);
    }

    public function testItHasArrivedWhenAllCopiesHave(): void
    {
        $expected = $this->plan('as_conversations');
        $result = $this->check($expected, static fn (Message $m): bool => true);
        $totals = $result->totals();
        self::assertSame(
            [5, 3, 2, 0, 4, 0],
            [$totals->messages, $totals->arrived, $totals->changed, $totals->missing, $totals->added, $totals->extra],
        );
        self::assertTrue($totals->complete());
        self::assertSame(Verdict::Changed->value, $this->row($result, 'list')['verdict']);
    }

    public function testACopyThatIsNotThereIsFoundAndSoIsWhatItWasMadeOf(): void
    {
        $expected = $this->plan('as_conversations');
        $skip = true;
        $result = $this->check($expected, static function (Message $m) use (&$skip): bool {
            $here = 'news 2' === $m->text && $skip;
            $skip = $skip && !$here;

            return !$here;
        });
        $totals = $result->totals();
        self::assertSame([1, 1, 3, 1], [$totals->changed, $totals->missing, $totals->added, $totals->addedMissing]);
        self::assertFalse($totals->complete());
        self::assertEquals(['copy_not_there' => 1, 'not_there' => 1], $result->reasons());
        self::assertSame(
            ['missing', 1], [$this->row($result, 'list')['verdict'], $this->row($result, 'list')['missing']],
        );
        self::assertSame(
            ['missing', 1],
            [$this->row($result, self::ADA)['verdict'], $this->row($result, self::ADA)['added_missing']],
        );
    }

    public function testANoticeSaysWhatStayed(): void
    {
        $expected = $this->plan('as_notice');
        $self = $expected->conversation(Chats::OWNER) ?? self::fail('The notes to self are made where there are none.');
        $notices = iterator_to_array($expected->messages($self->id), false);
        self::assertCount(1, $notices);
        self::assertSame(
            [NoticeKind::ListStayed, 'News · 2 people · 2 messages'],
            [$notices[0]->message->notice?->kind, $notices[0]->message->notice?->text],
        );
        $totals = $this->check($expected, static fn (Message $m): bool => true)->totals();
        self::assertSame([5, 3, 2, 1], [$totals->messages, $totals->arrived, $totals->leftOut, $totals->added]);
        self::assertTrue($totals->complete());
    }

    public function testTwoListsGoTheSameWayInTheOrderOfTime(): void
    {
        $list = static fn (string $key): Conversation => Chats::direct($key)->with([
            'kind' => ConversationKind::Broadcast, 'archived' => true, 'unread' => 5,
            'members' => [new Member(self::ADA, MemberRole::Member, null, null)],
        ]);
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($list): void {
            $one = $w->conversation($list('one'));
            $w->message($one, Chats::text('first', 100, 'A')->with(['effect' => 'fireflies', 'replyTo' => 'Z']));
            $w->message($one, Chats::text('third', 300, 'C'));
            $w->message($w->conversation($list('two')), Chats::text('second', 200, 'B'));
        });
        $this->build($chats, 'as_conversations');
        $expected = new ChatStore($this->path('e.sqlite'));
        self::assertSame(['first', 'second', 'third'], $this->texts($expected, self::ADA));
        $made = $expected->conversation(self::ADA) ?? self::fail();
        self::assertSame(
            [Fate::Added, false, 0], [$made->fate, $made->conversation->archived, $made->conversation->unread],
        );
        self::assertEquals([new Member(self::ADA, MemberRole::Member, null, null)], $made->conversation->members);
        $copy = iterator_to_array($expected->messages($made->id), false)[0]->message;
        self::assertSame(
            ['fireflies', null], [$copy->effect, $copy->replyTo], 'What the receiving format can hold stays.',
        );
    }

    public function testACopyOfTheSameMomentComesAfterwards(): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $w->message($w->conversation(Chats::direct(self::ADA)), Chats::text('own', 100, 'O'));
            $list = Chats::direct('list')->with(
                [
                    'kind' => ConversationKind::Broadcast,
                    'members' => [new Member(self::ADA, MemberRole::Member, null, null)],
                ],
            );
            $w->message($w->conversation($list), Chats::text('copy', 100, 'C'));
        });
        $this->build($chats, 'as_conversations');
        self::assertSame(['own', 'copy'], $this->texts(new ChatStore($this->path('e.sqlite')), self::ADA));
    }

    /**
     * @return iterable<string, array{
     *     int|null, list<int>, int,
     * }> when the list was founded, its messages' times, and the notice's
     */
    public static function noticeTimes(): iterable
    {
        yield 'the newest message' => [50, [100, 900, 300], 900];
        yield 'nothing was ever sent' => [50, [], 50];
        yield 'nobody knows anything' => [null, [], 1];
    }

    /** @param list<int> $times */
    #[DataProvider('noticeTimes')]
    public function testTheNoticeStandsWhereTheListEnded(?int $createdAt, array $times, int $stands): void
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($createdAt, $times): void {
            $id = $w->conversation(
                Chats::direct('list')->with(['kind' => ConversationKind::Broadcast, 'createdAt' => $createdAt]),
            );
            foreach ($times as $time) {
                $w->message($id, Chats::text('m', $time, "M$time"));
            }
            $w->message($w->conversation(Chats::direct()), Chats::text('later', 5_000, 'L'));
        });
        $this->build($chats, 'as_notice');
        $expected = new ChatStore($this->path('e.sqlite'));
        $self = $expected->conversation(Chats::OWNER) ?? self::fail();
        self::assertSame(
            [Fate::Added, false, 0], [$self->fate, $self->conversation->archived, $self->conversation->unread],
        );
        $notice = iterator_to_array($expected->messages($self->id), false)[0]->message;
        self::assertSame(
            [$stands, false, null, 'list · 0 people · '.count($times).' messages'],
            [$notice->sentAt, $notice->fromOwner, $notice->senderKey, $notice->notice?->text],
        );
    }

    /** A conversation that the customer leaves behind still takes the copies, and nothing else of its own. */
    public function testWhatStaysBehindStillTakesACopy(): void
    {
        $hidden = Chats::direct(self::ADA)->with(
            ['hidden' => true, 'archived' => true, 'unread' => 3, 'pinPlace' => 1],
        );
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w) use ($hidden): void {
            $w->message($w->conversation($hidden), Chats::text('own', 50, 'O'));
            $list = Chats::direct('list')->with(
                [
                    'kind' => ConversationKind::Broadcast,
                    'members' => [new Member(self::ADA, MemberRole::Member, null, null)],
                ],
            );
            $w->message($w->conversation($list), Chats::text('copy', 100, 'C'));
        });
        $this->build($chats, 'as_conversations', ['hidden_conversation' => 'left_out']);
        $stored = (new ChatStore($this->path('e.sqlite')))->conversation(self::ADA) ?? self::fail();
        $conversation = $stored->conversation;
        self::assertSame(
            [Fate::Changed, false, 0, null],
            [$stored->fate, $conversation->archived, $conversation->unread, $conversation->pinPlace],
        );
    }

    /** @param array<string, string> $more choices */
    private function build(ChatStore $chats, string $choice, array $more = []): void
    {
        $choices = ['broadcast_list' => $choice, ...$more];
        Expectation::of(
            Chats::format('ios')->capabilities(), 1_795_192_800_000, $choices,
        )->build($chats, $this->path('e.sqlite'), new NoProgress());
    }

    private function plan(string $choice): ChatStore
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $direct = $w->conversation(Chats::direct(self::ADA));
            foreach (['before' => 100, 'between' => 300, 'after' => 500] as $text => $time) {
                $w->message($direct, Chats::text($text, $time, 'D-'.$time));
            }
            $list = $w->conversation(
                new Conversation(
                    'list', ConversationKind::Broadcast, 'News', null, null, false, null, null, 0, null,
                    [
                        new Member(self::ADA, MemberRole::Member, null, null),
                        new Member(self::BO, MemberRole::Member, null, null),
                    ],
                ),
            );
            foreach (['news 1' => 200, 'news 2' => 400] as $text => $time) {
                $w->message(
                    $list,
                    new Message(
                        'L-'.$time, null, true, Kind::Text, $text, $time, null, DeliveryState::Read,
                        receipts: [
                            new Receipt(self::ADA, $time, null, $time), new Receipt(self::BO, $time, null, null),
                        ],
                    ),
                );
            }
        });
        Expectation::of(
            Chats::format('ios')->capabilities(), 1_795_192_800_000, ['broadcast_list' => $choice],
        )->build($chats, $this->path('e.sqlite'), new NoProgress());

        return new ChatStore($this->path('e.sqlite'));
    }

    /** @param callable(Message): bool $isThere of what was to be written */
    private function check(ChatStore $expected, callable $isThere): Result
    {
        $found = Chats::store($this->path('found.sqlite'), static function (StoreWriter $w) use (
            $expected, $isThere,
        ): void {
            foreach ($expected->conversations() as $stored) {
                if ($stored->fate->isWritten()) {
                    $id = $w->conversation($stored->conversation);
                    foreach ($expected->messages($stored->id) as $message) {
                        if ($message->fate->isWritten() && $isThere($message->message)) {
                            $w->message($id, $message->message);
                        }
                    }
                }
            }
        });

        return (new Comparison($expected, $found))->run($this->path('result.sqlite'), new NoProgress());
    }

    /** @return list<string|null> */
    private function texts(ChatStore $chats, string $key): array
    {
        $texts = [];
        foreach ($chats->messages($chats->conversation($key)->id ?? 0) as $stored) {
            $texts[] = $stored->message->text;
        }

        return $texts;
    }

    /** @return array<string, mixed> */
    private function row(Result $result, string $key): array
    {
        foreach ($result->conversations() as $row) {
            if ($row['key'] === $key) {
                return $row;
            }
        }
        self::fail('There is no '.$key);
    }
}
