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
                $copies[] = [array_map(static fn (Receipt $r): string => $r->personKey, $stored->message->receipts), $stored->origin];
            }
        }
        $list = $expected->conversation('list') ?? self::fail();
        [$first] = $expected->range($list->id);
        self::assertSame([[[self::ADA], $first], [[self::ADA], $first + 1]], $copies, 'Only the receipts of the one it goes to, and where it comes from.');
        self::assertSame(Fate::Spread, $list->fate);
    }

    public function testItHasArrivedWhenAllCopiesHave(): void
    {
        $expected = $this->plan('as_conversations');
        $result = $this->check($expected, static fn (Message $m): bool => true);
        $totals = $result->totals();
        self::assertSame([5, 3, 2, 0, 4, 0], [$totals->messages, $totals->arrived, $totals->changed, $totals->missing, $totals->added, $totals->extra]);
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
        self::assertSame(['missing', 1], [$this->row($result, 'list')['verdict'], $this->row($result, 'list')['missing']]);
        self::assertSame(['missing', 1], [$this->row($result, self::ADA)['verdict'], $this->row($result, self::ADA)['added_missing']]);
    }

    public function testANoticeSaysWhatStayed(): void
    {
        $expected = $this->plan('as_notice');
        $self = $expected->conversation(Chats::OWNER) ?? self::fail('The notes to self are made where there are none.');
        $notices = iterator_to_array($expected->messages($self->id), false);
        self::assertCount(1, $notices);
        self::assertSame([NoticeKind::ListStayed, 'News · 2 people · 2 messages'], [$notices[0]->message->notice?->kind, $notices[0]->message->notice?->text]);
        $totals = $this->check($expected, static fn (Message $m): bool => true)->totals();
        self::assertSame([5, 3, 2, 1], [$totals->messages, $totals->arrived, $totals->leftOut, $totals->added]);
        self::assertTrue($totals->complete());
    }

    private function plan(string $choice): ChatStore
    {
        $chats = Chats::store($this->path('x.sqlite'), static function (StoreWriter $w): void {
            $direct = $w->conversation(Chats::direct(self::ADA));
            foreach (['before' => 100, 'between' => 300, 'after' => 500] as $text => $time) {
                $w->message($direct, Chats::text($text, $time, 'D-'.$time));
            }
            $list = $w->conversation(new Conversation('list', ConversationKind::Broadcast, 'News', null, null, false, null, null, 0, null, [new Member(self::ADA, MemberRole::Member, null, null), new Member(self::BO, MemberRole::Member, null, null)]));
            foreach (['news 1' => 200, 'news 2' => 400] as $text => $time) {
                $w->message($list, new Message('L-'.$time, null, true, Kind::Text, $text, $time, null, DeliveryState::Read, receipts: [new Receipt(self::ADA, $time, null, $time), new Receipt(self::BO, $time, null, null)]));
            }
        });
        Expectation::of(Chats::format('ios')->capabilities(), 1_795_192_800_000, ['broadcast_list' => $choice])->build($chats, $this->path('e.sqlite'), new NoProgress());

        return new ChatStore($this->path('e.sqlite'));
    }

    /** @param callable(Message): bool $isThere of what was to be written */
    private function check(ChatStore $expected, callable $isThere): Result
    {
        $found = Chats::store($this->path('found.sqlite'), static function (StoreWriter $w) use ($expected, $isThere): void {
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
