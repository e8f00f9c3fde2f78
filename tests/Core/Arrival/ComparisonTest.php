<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Arrival;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

final class ComparisonTest extends TestCase
{
    use Scratch;

    public function testTheSameChatsHaveArrived(): void
    {
        $fill = static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            foreach (['a', 'b', 'b', 'c'] as $text) {
                $w->message($id, Chats::text($text));
            }
        };
        $result = $this->compare($fill, $fill);
        self::assertSame(['messages' => 4, 'arrived' => 4, 'missing' => 0, 'complete' => true], array_intersect_key($result->totals()->toArray(), ['messages' => 1, 'arrived' => 1, 'missing' => 1, 'complete' => 1]));
        self::assertSame('arrived', $result->conversations()[0]['verdict']);
    }

    public function testEachMessageEndsInOneAccount(): void
    {
        $result = $this->compare(static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, Chats::text('whole', wireId: 'W1'));
            $w->message($id, Chats::text('changed', wireId: 'W2'), Fate::Changed, ['unknown_detail']);
            $w->message($id, Chats::text('stays', wireId: 'W3'), Fate::LeftOut, ['broadcast_list']);
            $w->message($id, Chats::text('lost', wireId: 'W4'));
            $w->message($id, Chats::text('twice', wireId: 'W5'));
            $w->message($id, Chats::text('twice', wireId: 'W5'));
        }, static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, Chats::text('whole', wireId: 'W1'));
            $w->message($id, Chats::text('changed', wireId: 'W2'));
            $w->message($id, Chats::text('twice', wireId: 'W5'));
            $w->message($id, Chats::text('from nowhere', wireId: 'W9'));
        });
        $row = $result->conversations()[0];
        self::assertSame([2, 1, 1, 2, 1, 'missing'], [$row['arrived'], $row['changed'], $row['left_out'], $row['missing'], $row['extra'], $row['verdict']]);
        self::assertSame(['not_there' => 2, 'not_expected' => 1], $result->reasons());
        self::assertEqualsCanonicalizing(['broadcast_list', 'unknown_detail'], $row['rules']);
        self::assertFalse($result->totals()->complete());
    }

    public function testAnAlteredMessageIsNotArrivedAndSaysWhat(): void
    {
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), Chats::text('as it was', 5, 'W1')),
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), Chats::text('as it is', 6, 'W1')),
        );
        $finding = $result->findings($result->conversations()[0]['id'])[0];
        self::assertSame(['missing', 'different', ['text', 'sent_at', 'received_at']], [$finding['account'], $finding['reason'], $finding['aspects']]);
    }

    public function testAttachmentsThatAreGoneOrOtherAreToldApart(): void
    {
        $photo = static fn (string $id, Presence $presence, ?string $hash): Message => new Message($id, null, true, Kind::Photo, null, 9, null, DeliveryState::Sent, attachments: [new Attachment('p/'.$id, null, 'image/jpeg', 10, $hash, $presence)]);
        $result = $this->compare(static function (StoreWriter $w) use ($photo): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, $photo('GONE', Presence::Present, str_repeat('a', 64)));
            $w->message($id, $photo('OTHER', Presence::Present, str_repeat('a', 64)));
            $w->message($id, $photo('NEVER', Presence::Missing, null));
        }, static function (StoreWriter $w) use ($photo): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, $photo('GONE', Presence::Missing, null));
            $w->message($id, $photo('OTHER', Presence::Present, str_repeat('b', 64)));
            $w->message($id, $photo('NEVER', Presence::Missing, null));
        });
        $row = $result->conversations()[0];
        self::assertSame(['attachment_not_there', 'attachment_different'], array_column($result->findings($row['id']), 'reason'));
        self::assertSame([1, 2, 2, 1], [$row['arrived'], $row['missing'], $row['attachments_expected'], $row['attachments_found']]);
    }

    public function testAConversationThatIsGoneOrThatNobodySent(): void
    {
        $result = $this->compare(static function (StoreWriter $w): void {
            $w->message($w->conversation(Chats::direct('+447700900010')), Chats::text('x', wireId: 'X'));
            $w->conversation(Chats::direct('+447700900011'));
        }, static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct('+447700900012')), Chats::text('y', wireId: 'Y')));
        $verdicts = array_column($result->conversations(), 'verdict', 'key');
        self::assertSame(['+447700900010' => 'missing', '+447700900011' => 'missing', '+447700900012' => 'extra'], $verdicts);
        self::assertSame([1, 1], [$result->totals()->missing, $result->totals()->extra]);
    }

    public function testWhatWasToStayBehindAndIsThereCountsAsExtra(): void
    {
        $list = new Conversation('list', ConversationKind::Broadcast, null, null, null, false, null, null, 0, null, []);
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message($w->conversation($list, Fate::LeftOut, ['broadcast_list']), Chats::text('x', wireId: 'X'), Fate::LeftOut, ['broadcast_list']),
            static fn (StoreWriter $w) => $w->message($w->conversation($list), Chats::text('x', wireId: 'X')),
        );
        self::assertSame(['extra', 1, 1], [$result->conversations()[0]['verdict'], $result->conversations()[0]['left_out'], $result->conversations()[0]['extra']]);
    }

    public function testOtherSettingsAreADifference(): void
    {
        $with = static fn (bool $archived, int $unread): Conversation => new Conversation('k', ConversationKind::Group, 'T', null, null, $archived, null, null, $unread, null, []);
        $result = $this->compare(static fn (StoreWriter $w) => $w->conversation($with(true, 3)), static fn (StoreWriter $w) => $w->conversation($with(false, 4)));
        self::assertSame([['archived', 'unread'], 'missing'], [$result->conversations()[0]['settings'], $result->conversations()[0]['verdict']]);
        self::assertFalse($result->totals()->complete());
    }

    public function testMonthsShowTheHole(): void
    {
        $may = (int) strtotime('2024-05-10 12:00 UTC') * 1000;
        $june = (int) strtotime('2024-06-10 12:00 UTC') * 1000;
        $result = $this->compare(static function (StoreWriter $w) use ($may, $june): void {
            $id = $w->conversation(Chats::direct());
            foreach ([$may, $may + 1, $june, -5, 5_000_000_000_000] as $n => $time) {
                $w->message($id, Chats::text('m', $time, 'M'.$n));
            }
        }, static function (StoreWriter $w) use ($may): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, Chats::text('m', $may, 'M0'));
            $w->message($id, Chats::text('m', -5, 'M3'));
        });
        $months = array_values($result->months())[0];
        self::assertSame([['0000-00', 1, 1], ['2024-05', 2, 1], ['2024-06', 1, 0], ['9999-99', 1, 0]], array_map(array_values(...), $months));
    }

    public function testTotalsThatDoNotAddUpAreImpossible(): void
    {
        $this->expectException(\LogicException::class);
        new Totals(1, 10, 5, 2, 1, 1, 0, 0);
    }

    /**
     * @param callable(StoreWriter): mixed $expected
     * @param callable(StoreWriter): mixed $found
     */
    private function compare(callable $expected, callable $found): Result
    {
        return (new Comparison(
            Chats::store($this->path('expected.sqlite'), static function (StoreWriter $w) use ($expected): void { $expected($w); }),
            Chats::store($this->path('found.sqlite'), static function (StoreWriter $w) use ($found): void { $found($w); }),
        ))->run($this->path('result.sqlite'), new NoProgress());
    }

    public function testPeopleLabelsAndCannedAnswersAreComparedToo(): void
    {
        $fill = static fn (string $name, string $label, string $answer): callable => static function (StoreWriter $w) use ($name, $label, $answer): void {
            $w->person(new \Geschenk\Core\Chat\Person('p', null, $name, null, false, ['1']));
            $w->person(new \Geschenk\Core\Chat\Person('q', null, 'Same', null));
            $w->label(new \Geschenk\Core\Chat\Label($label, 1));
            $w->cannedAnswer(new \Geschenk\Core\Chat\CannedAnswer('/a', $answer));
        };
        $expected = Chats::store($this->path('account-e.sqlite'), $fill('Ada', 'Paid', 'Yes.'));
        $same = (new Comparison($expected, Chats::store($this->path('account-f.sqlite'), $fill('Ada', 'Paid', 'Yes.'))))->run($this->path('account-r.sqlite'), new NoProgress());
        self::assertTrue($same->totals()->complete());
        $other = (new Comparison($expected, Chats::store($this->path('account-g.sqlite'), $fill('Bo', 'Unpaid', 'No.'))))->run($this->path('account-s.sqlite'), new NoProgress());
        self::assertSame(3, $other->totals()->accountDiffering);
        self::assertFalse($other->totals()->complete());
        self::assertSame(['canned_answer' => 1, 'label' => 1, 'person' => 1], array_column($other->account(), 'differing', 'what'));
    }
}
