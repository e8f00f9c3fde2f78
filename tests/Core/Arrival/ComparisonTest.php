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
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\RecordedProgress;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
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
        self::assertSame(
            ['messages' => 4, 'arrived' => 4, 'missing' => 0, 'complete' => true],
            array_intersect_key(
                $result->totals()->toArray(), ['messages' => 1, 'arrived' => 1, 'missing' => 1, 'complete' => 1],
            ),
        );
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
        self::assertSame(
            [2, 1, 1, 2, 1, 'missing'],
            [$row['arrived'], $row['changed'], $row['left_out'], $row['missing'], $row['extra'], $row['verdict']],
        );
        self::assertSame(['not_there' => 2, 'not_expected' => 1], $result->reasons());
        self::assertEqualsCanonicalizing(['broadcast_list', 'unknown_detail'], $row['rules']);
        self::assertFalse($result->totals()->complete());
    }

    public function testAnAlteredMessageIsNotArrivedAndSaysWhat(): void
    {
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(Chats::direct()), Chats::text('as it was', 5, 'W1'),
            ),
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(Chats::direct()), Chats::text('as it is', 6, 'W1'),
            ),
        );
        $finding = $result->findings($result->conversations()[0]['id'])[0];
        self::assertSame(
            ['missing', 'different', ['text', 'sent_at', 'received_at']],
            [$finding['account'], $finding['reason'], $finding['aspects']],
        );
    }

    public function testAttachmentsThatAreGoneOrOtherAreToldApart(): void
    {
        $photo = static fn (string $id, Presence $presence, ?string $hash): Message => new Message(
            $id, null, true, Kind::Photo, null, 9, null, DeliveryState::Sent,
            attachments: [new Attachment('p/'.$id, null, 'image/jpeg', 10, $hash, $presence)],
        );
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
        self::assertSame(
            ['attachment_not_there', 'attachment_different'], array_column($result->findings($row['id']), 'reason'),
        );
        self::assertSame(
            [1, 2, 2, 1], [$row['arrived'], $row['missing'], $row['attachments_expected'], $row['attachments_found']],
        );
    }

    public function testAConversationThatIsGoneOrThatNobodySent(): void
    {
        $result = $this->compare(static function (StoreWriter $w): void {
            $w->message($w->conversation(Chats::direct('+447700900010')), Chats::text('x', wireId: 'X'));
            $w->conversation(Chats::direct('+447700900011'));
        }, static fn (StoreWriter $w) => $w->message(
            $w->conversation(Chats::direct('+447700900012')), Chats::text('y', wireId: 'Y'),
        ));
        $verdicts = array_column($result->conversations(), 'verdict', 'key');
        self::assertSame(
            ['+447700900010' => 'missing', '+447700900011' => 'missing', '+447700900012' => 'extra'], $verdicts,
        );
        self::assertSame([1, 1], [$result->totals()->missing, $result->totals()->extra]);
    }

    /**
     * @return iterable<string, array{list<int>, list<int>, list<int>}> days; first and last that are expected and found
     */
    public static function times(): iterable
    {
        yield 'all there' => [[50, 10, 90, 40], [50, 10, 90, 40], [10, 90, 10, 90]];
        yield 'the first and the last gone' => [[50, 10, 90, 40], [50, 40], [10, 90, 40, 50]];
        yield 'more than there were' => [[50, 40], [50, 10, 90, 40], [40, 50, 10, 90]];
        yield 'one more at the end' => [[50, 40], [50, 40, 90], [40, 50, 40, 90]];
        yield 'another in the place of one' => [[10, 50], [10, 90], [10, 50, 10, 90]];
        yield 'only one day' => [[7, 7], [7, 7], [7, 7, 7, 7]];
        yield 'only before 1970' => [[-50, -10], [-50, -10], [-50, -10, -50, -10]];
    }

    /**
     * @param list<int> $expected
     * @param list<int> $found
     * @param list<int> $row
     */
    #[DataProvider('times')]
    public function testTheFirstAndTheLastTimeOfBothSidesStandInARow(array $expected, array $found, array $row): void
    {
        $fill = static fn (array $days): \Closure => static function (StoreWriter $w) use ($days): void {
            $id = $w->conversation(Chats::direct());
            foreach ($days as $day) {
                assert(is_int($day));
                $w->message($id, Chats::text('m', $day * 86_400_000, 'M'.$day));
            }
        };
        $row = array_map(static fn (int $day): int => $day * 86_400_000, $row);
        $is = $this->compare($fill($expected), $fill($found))->conversations()[0];
        self::assertSame($row, [$is['first_expected'], $is['last_expected'], $is['first_found'], $is['last_found']]);
    }

    public function testWhatWasToStayBehindAndIsThereCountsAsExtra(): void
    {
        $list = new Conversation('list', ConversationKind::Broadcast, null, null, null, false, null, null, 0, null, []);
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message(
                $w->conversation($list, Fate::LeftOut, ['broadcast_list']), Chats::text('x', wireId: 'X'),
                Fate::LeftOut, ['broadcast_list'],
            ),
            static fn (StoreWriter $w) => $w->message($w->conversation($list), Chats::text('x', wireId: 'X')),
        );
        self::assertSame(
            ['extra', 1, 1],
            [
                $result->conversations()[0]['verdict'], $result->conversations()[0]['left_out'],
                $result->conversations()[0]['extra'],
            ],
        );
    }

    public function testOtherSettingsAreADifference(): void
    {
        $with = static fn (bool $archived, int $unread): Conversation => new Conversation(
            'k', ConversationKind::Group, 'T', null, null, $archived, null, null, $unread, null, [],
        );
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->conversation($with(true, 3)),
            static fn (StoreWriter $w) => $w->conversation($with(false, 4)),
        );
        self::assertSame(
            [['archived', 'unread'], 'missing'],
            [$result->conversations()[0]['settings'], $result->conversations()[0]['verdict']],
        );
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
        self::assertSame(
            [['0000-00', 1, 1], ['2024-05', 2, 1], ['2024-06', 1, 0], ['9999-99', 1, 0]],
            array_map(static fn (array $month): array => array_slice(array_values($month), 0, 3), $months),
        );
    }

    public function testTotalsThatDoNotAddUpAreImpossible(): void
    {
        $this->expectException(\LogicException::class);
        new Totals(1, 10, 5, 2, 1, 1, 0, 0, 0, 0, 0, 0);
    }

    public function testNothingOfTheTotalsMakesUpForAnother(): void
    {
        self::assertTrue((new Totals(1, 3, 1, 1, 1, 0, 0, 0, 5, 0, 0, 0))->complete());
        // Missing, extra, settings, added missing, account, conversations more: each alone, and each pair of them.
        foreach ([[6], [7], [8], [9], [10], [11], [6, 9], [6, 11], [7, 10]] as $places) {
            $numbers = [1, 2, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0];
            foreach ($places as $place) {
                $numbers[$place] = 8 === $place ? 0 : 1;
            }
            self::assertSame([8] === $places, (new Totals(...$numbers))->complete(), implode(', ', $places));
        }
        self::assertFalse((new Totals(1, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0))->complete());
        self::assertFalse((new Totals(1, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0))->complete());
    }

    /**
     * @param callable(StoreWriter): mixed $expected
     * @param callable(StoreWriter): mixed $found
     */
    private function compare(callable $expected, callable $found, Progress $progress = new NoProgress()): Result
    {
        return (new Comparison(
            Chats::store(
                $this->path('expected.sqlite'),
                static function (StoreWriter $w) use ($expected): void { $expected($w); },
            ),
            Chats::store(
                $this->path('found.sqlite'), static function (StoreWriter $w) use ($found): void { $found($w); },
            ),
        ))->run($this->path('result.sqlite'), $progress);
    }

    public function testWhatStaysBehindIsMissedNeitherByItsTimesNorByItsFiles(): void
    {
        $photo = static fn (string $id, int $at, Fate $fate): array => [new Message(
            $id, null, true, Kind::Photo, null, $at, null, DeliveryState::Sent, attachments: [
                new Attachment("f/$id", null, 'image/jpeg', 3, str_repeat('a', 64), Presence::Present),
            ],
        ), $fate];
        $fill = static fn (bool $isAll): callable => static function (StoreWriter $w) use ($photo, $isAll): void {
            $id = $w->conversation(Chats::direct());
            foreach ([$photo('old', 1000, Fate::LeftOut), $photo('new', 5000, Fate::Whole)] as [$message, $fate]) {
                if ($isAll || Fate::Whole === $fate) {
                    $w->message($id, $message, $fate);
                }
            }
        };
        $row = $this->compare($fill(true), $fill(false))->conversations()[0];
        self::assertSame([5000, 5000, 1, 1, 'changed'], [
            $row['first_expected'], $row['first_found'], $row['attachments_expected'], $row['attachments_found'],
            $row['verdict'],
        ]);
    }

    public function testPeopleLabelsAndCannedAnswersAreComparedToo(): void
    {
        $fill = static fn (
            string $name, string $label, string $answer,
        ): callable => static function (StoreWriter $w) use ($name, $label, $answer): void {
            $w->person(new Person('p', null, $name, null, false, ['1']));
            $w->person(new Person('q', null, 'Same', null));
            $w->label(new \Geschenk\Core\Chat\Label($label, 1));
            $w->cannedAnswer(new \Geschenk\Core\Chat\CannedAnswer('/a', $answer));
        };
        $expected = Chats::store($this->path('account-e.sqlite'), $fill('Ada', 'Paid', 'Yes.'));
        $same = (new Comparison(
            $expected, Chats::store($this->path('account-f.sqlite'), $fill('Ada', 'Paid', 'Yes.')),
        ))->run($this->path('account-r.sqlite'), new NoProgress());
        self::assertTrue($same->totals()->complete());
        $other = (new Comparison(
            $expected, Chats::store($this->path('account-g.sqlite'), $fill('Bo', 'Unpaid', 'No.')),
        ))->run($this->path('account-s.sqlite'), new NoProgress());
        self::assertSame(3, $other->totals()->accountDiffering);
        self::assertFalse($other->totals()->complete());
        self::assertSame(
            ['canned_answer' => 1, 'label' => 1, 'person' => 1],
            array_filter(
                array_column($other->account(), 'differing', 'what'),
                static fn (int $differing): bool => $differing > 0,
            ),
        );
        self::assertSame(
            [
                ['person', 'p', 'Ada', 'different'], ['label', '1', 'Paid', 'different'],
                ['canned_answer', '1', '/a', 'different'],
            ],
            array_map(
                static fn (array $d): array => [$d['what'], $d['subject'], $d['called'], $d['how']],
                $other->accountDifferences(),
            ),
        );
    }

    /**
     * @return iterable<string, array{list<string>, list<string>}> wire ids found, and which of them are out of order
     */
    public static function orders(): iterable
    {
        yield 'neighbours' => [['a', 'c', 'b', 'd', 'e'], ['b']];
        yield 'both ends' => [['e', 'b', 'c', 'd', 'a'], ['a', 'e']];
        yield 'the last comes first' => [['e', 'a', 'b', 'c', 'd'], ['e']];
        yield 'backwards' => [['e', 'd', 'c', 'b', 'a'], ['a', 'b', 'c', 'd']];
        yield 'one gone beside it' => [['b', 'a', 'd', 'e'], ['a']];
    }

    /**
     * @param list<string> $found
     * @param list<string> $moved
     */
    #[DataProvider('orders')]
    public function testMessagesInAnotherOrderHaveNotArrived(array $found, array $moved): void
    {
        $fill = static fn (array $ids): callable => static function (StoreWriter $w) use ($ids): void {
            $id = $w->conversation(Chats::direct());
            foreach ($ids as $wireId) {
                self::assertIsString($wireId);
                $w->message($id, Chats::text($wireId, ord($wireId), $wireId));
            }
        };
        $result = $this->compare($fill(['a', 'b', 'c', 'd', 'e']), $fill($found));
        $out = array_filter(
            $result->findings($result->conversations()[0]['id']),
            static fn (array $f): bool => 'out_of_order' === $f['reason'],
        );
        self::assertSame($moved, array_values(array_map(static fn (array $f): string => chr($f['sent_at']), $out)));
        self::assertSame([['order']], array_values(array_unique(array_column($out, 'aspects'), \SORT_REGULAR)));
        self::assertSame(5 - count($moved) - (5 - count($found)), $result->totals()->arrived);
        self::assertFalse($result->totals()->complete());
    }

    public function testTheAccountItselfIsCompared(): void
    {
        foreach ([
            ['account', 'x', 'Owner', 'Otterpost'], ['account_name', Chats::OWNER, "Owner\0b", 'Otterpost'],
            ['edition', Chats::OWNER, 'Owner', 'Otterpost Counter'],
        ] as $n => [$what, $account, $name, $edition]) {
            $writer = new StoreWriter($this->path("found-$n.sqlite"));
            $writer->source(new Source('Otterpost', $edition, Platform::Ios, 3, $account, $name));
            $writer->finish();
            $expected = Chats::store($this->path("expected-$n.sqlite"), static function (StoreWriter $w): void {});
            $result = (new Comparison($expected, new ChatStore($this->path("found-$n.sqlite"))))->run(
                $this->path("result-$n.sqlite"), new NoProgress(),
            );
            self::assertSame([$what], array_column($result->accountDifferences(), 'what'));
            self::assertFalse($result->totals()->complete());
        }
    }

    public function testAConversationOrAPersonMoreIsADifferenceAndARowForSomebodyNamedIsNot(): void
    {
        $nobody = static function (StoreWriter $w): void {
            $w->message(
                $w->conversation(Chats::direct()),
                Chats::text('x', wireId: 'X')->with(['reactions' => [new Reaction('p2', '!', null)]]),
            );
        };
        $result = $this->compare($nobody, static function (StoreWriter $w) use ($nobody): void {
            $nobody($w);
            $w->conversation(Chats::direct('+447700900099'));
            $w->person(new Person('+447700900002', '+447700900002', null, null));
            $w->person(new Person('p2', null, null, null));
            $w->person(new Person('p3', null, null, null));
        });
        self::assertSame(1, $result->totals()->conversationsExtra);
        self::assertSame(
            [['p3', 'extra']],
            array_map(static fn (array $d): array => [$d['subject'], $d['how']], $result->accountDifferences()),
        );
        self::assertFalse($result->totals()->complete());
    }

    /** @return iterable<string, array{array<string, mixed>, array<string, mixed>, string}> */
    public static function alike(): iterable
    {
        $member = static fn (string $key, ?int $joined): array => [
            'members' => [new Member($key, MemberRole::Member, $joined, null)],
        ];
        yield 'nothing and zero' => [$member('p', null), $member('p', 0), 'members'];
        yield 'a number as text' => [$member('+4477009', 5), $member('4477009', 5), 'members'];
        yield 'digits' => [['opaque' => ['x:y' => '0123']], ['opaque' => ['x:y' => '123']], 'opaque'];
        yield 'empty and nothing' => [['opaque' => ['x:y' => '']], ['opaque' => ['x:y' => null]], 'opaque'];
        yield 'whole and real' => [['opaque' => ['x:y' => 1]], ['opaque' => ['x:y' => 1.0]], 'opaque'];
        yield 'labels' => [['labels' => ["a\0b"]], ['labels' => ['a', 'b']], 'labels'];
    }

    /**
     * @param array<string, mixed> $expected
     * @param array<string, mixed> $found
     */
    #[DataProvider('alike')]
    public function testValuesThatLookAlikeAreNotTheSame(array $expected, array $found, string $setting): void
    {
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->conversation(Chats::direct()->with($expected)),
            static fn (StoreWriter $w) => $w->conversation(Chats::direct()->with($found)),
        );
        self::assertSame([$setting], $result->conversations()[0]['settings']);
    }

    public function testMentionsHaveNoOrder(): void
    {
        $with = static fn (array $mentions): callable => static fn (StoreWriter $w) => $w->message(
            $w->conversation(Chats::direct()), Chats::text('a b', wireId: 'X')->with(['mentions' => $mentions]),
        );
        $mentions = [new Mention('p', 0, 1), new Mention('q', 2, 1)];
        self::assertTrue($this->compare($with($mentions), $with(array_reverse($mentions)))->totals()->complete());
    }

    /** What is missing does not hide what came on top. */
    public function testOneMissingAndOneMoreAreBothSeen(): void
    {
        $of = static fn (string ...$ids): callable => static function (StoreWriter $w) use ($ids): void {
            $id = $w->conversation(Chats::direct());
            foreach ($ids as $wireId) {
                $w->message($id, Chats::text($wireId, ord($wireId), $wireId));
            }
        };
        $row = $this->compare($of('a', 'b', 'c'), $of('a', 'c', 'd'))->conversations()[0];
        self::assertSame([2, 1, 1], [$row['arrived'], $row['missing'], $row['extra']]);
    }

    public function testAMessageThatMovedAndChangedSaysBoth(): void
    {
        $fill = static fn (array $texts): callable => static function (StoreWriter $w) use ($texts): void {
            $id = $w->conversation(Chats::direct());
            foreach ($texts as $wireId => $text) {
                self::assertIsString($text);
                $w->message($id, Chats::text($text, 5_000, (string) $wireId)->with(['editedAt' => 7_000]));
            }
        };
        $result = $this->compare(
            $fill(['a' => 'one', 'b' => 'two', 'c' => 'three', 'd' => 'four']),
            $fill(['b' => 'two', 'c' => 'three', 'd' => 'four', 'a' => 'other']),
        );
        $findings = $result->findings($result->conversations()[0]['id']);
        self::assertSame(
            [['different', ['text', 'order']]],
            array_map(static fn (array $f): array => [$f['reason'], $f['aspects']], $findings),
        );
    }

    public function testEachAspectIsNamedOnceAndNoOther(): void
    {
        $one = new Message('W', 'p', false, Kind::Text, 'x', 5_000, 6_000, DeliveryState::Sent, editedAt: 7_000);
        $other = $one->with(['senderKey' => null, 'fromOwner' => true, 'replyTo' => 'V', 'expiresAt' => 9_000]);
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), $one),
            static fn (StoreWriter $w) => $w->message($w->conversation(Chats::direct()), $other),
        );
        self::assertSame(
            ['sender', 'reply', 'expires_at'], $result->findings($result->conversations()[0]['id'])[0]['aspects'],
        );
    }

    /**
     * @return iterable<string, array{Fate, Fate, string}> of the conversation and of its one message, and the verdict
     */
    public static function fates(): iterable
    {
        yield 'as it was' => [Fate::Whole, Fate::Whole, 'arrived'];
        yield 'one message changed' => [Fate::Whole, Fate::Changed, 'changed'];
        yield 'one message left out' => [Fate::Whole, Fate::LeftOut, 'changed'];
        yield 'the conversation changed' => [Fate::Changed, Fate::Whole, 'changed'];
        yield 'all left out' => [Fate::LeftOut, Fate::LeftOut, 'left_out'];
    }

    #[DataProvider('fates')]
    public function testTheVerdictTellsOfTheSmallestChange(Fate $conversation, Fate $message, string $verdict): void
    {
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message(
                $w->conversation(Chats::direct(), $conversation), Chats::text('x', wireId: 'X'), $message,
            ),
            static function (StoreWriter $w) use ($conversation, $message): void {
                $id = $conversation->isWritten() ? $w->conversation(Chats::direct()) : 0;
                if ($message->isWritten()) {
                    $w->message($id, Chats::text('x', wireId: 'X'));
                }
            },
        );
        self::assertSame([$verdict], array_column($result->conversations(), 'verdict'));
        self::assertTrue($result->totals()->complete());
    }

    public function testARowSaysWhatBothSidesHold(): void
    {
        $named = static function (StoreWriter $w, string $key): int {
            $w->person(new Person($key, $key, "Name of $key", null));

            return $w->conversation(
                Chats::direct($key)->with(['members' => [new Member($key, MemberRole::Member, null, null)]]),
            );
        };
        $result = $this->compare(
            static fn (StoreWriter $w) => $w->message($named($w, '+447700900010'), Chats::text('x', 4_000, 'X')),
            static fn (StoreWriter $w) => $w->message($named($w, '+447700900012'), Chats::text('y', 6_000, 'Y')),
        );
        $columns = [
            'title', 'messages_expected', 'messages_found', 'people_expected', 'people_found', 'missing', 'extra',
            'first_expected', 'last_found',
        ];
        $rows = array_map(
            static fn (array $row): array => array_map(static fn (string $c): mixed => $row[$c], $columns),
            $result->conversations(),
        );
        self::assertSame([
            [
                'Name of +447700900010', 1, 0, 1, 0, 1, 0, 4_000, null,
            ], ['Name of +447700900012', 0, 1, 0, 1, 0, 1, null, 6_000],
        ], $rows);
        foreach ([
            'arrived', 'changed', 'left_out', 'added', 'added_missing', 'attachments_expected', 'attachments_found',
        ] as $column) {
            self::assertSame([0, 0], array_column($result->conversations(), $column), $column);
        }
        self::assertSame([[], []], array_column($result->conversations(), 'rules'));
        self::assertSame([[], []], array_column($result->conversations(), 'settings'));
    }

    public function testMonthsCountEachDayAndOnlyWhatIsMeantToArrive(): void
    {
        $day = static fn (string $day): int => (int) strtotime("$day UTC") * 1000;
        $times = [
            -1, 0, $day('1970-01-31'), $day('2024-05-01'), $day('2024-05-01 23:59'), $day('2024-05-02'), $day(
                '2024-05-31 23:59:59',
            ),
            $day('2099-12-31 23:59:59'), $day('2100-01-01'),
        ];
        $fill = static fn (bool $withLeftOut): callable => static function (StoreWriter $w) use (
            $times, $day, $withLeftOut,
        ): void {
            $id = $w->conversation(Chats::direct());
            foreach ($times as $n => $time) {
                $w->message($id, Chats::text('m', $time, 'M'.$n));
            }
            if ($withLeftOut) {
                $w->message($id, Chats::text('m', $day('2024-05-03'), 'L'), Fate::LeftOut);
                $w->message($id, Chats::text('m', $day('2024-06-03'), 'L2'), Fate::LeftOut);
            }
        };
        $months = array_values($this->compare($fill(true), $fill(false))->months())[0];
        self::assertSame([
            ['0000-00', 1, 1], ['1970-01', 2, 2], ['2024-05', 4, 4], ['2024-06', 0, 0], ['2099-12', 1, 1],
            ['9999-99', 1, 1],
        ], array_map(static fn (array $month): array => array_slice(array_values($month), 0, 3), $months));
        self::assertSame(0, array_sum(array_column($months, 'extra')));
    }

    public function testDetailsNobodyKnowsHaveNoOrder(): void
    {
        $with = static fn (array $opaque): callable => static fn (StoreWriter $w) => $w->conversation(
            Chats::direct()->with(['opaque' => $opaque]),
        );
        $one = $with(['x:a' => 1, 'x:c' => 3, 'x:b' => 2]);
        self::assertTrue($this->compare($one, $with(['x:b' => 2, 'x:a' => 1, 'x:c' => 3]))->totals()->complete());
    }

    public function testAPersonWhoseKeyIsAPartOfAnothersIsStillOneMore(): void
    {
        $fill = static fn (string ...$people): callable => static function (StoreWriter $w) use ($people): void {
            $w->message(
                $w->conversation(Chats::direct()),
                Chats::text('x', wireId: 'X')->with(['reactions' => [new Reaction('raft-22', '!', null)]]),
            );
            foreach ($people as $key) {
                $w->person(new Person($key, null, null, null));
            }
        };
        $differences = $this->compare($fill(), $fill('raft-2', 'aft-22', 'raft-22'))->accountDifferences();
        self::assertSame(['aft-22', 'raft-2'], array_column($differences, 'subject'));
    }

    public function testLongListsAreGivenInPieces(): void
    {
        $result = $this->compare(static function (StoreWriter $w): void {
            $id = $w->conversation(Chats::direct());
            for ($n = 0; $n < 203; ++$n) {
                $w->message($id, Chats::text('m', 1_000 + $n, "M$n"));
                $w->person(new Person("p$n", null, "N$n", null));
            }
        }, static fn (StoreWriter $w) => $w->conversation(Chats::direct()));
        $id = $result->conversations()[0]['id'];
        self::assertCount(200, $result->findings($id));
        self::assertSame([1_200, 1_201, 1_202], array_column($result->findings($id, 200), 'sent_at'));
        self::assertSame([1_003, 1_004], array_column($result->findings($id, 3, 2), 'sent_at'));
        self::assertCount(200, $result->accountDifferences());
        self::assertCount(203, $result->accountDifferences(300));
    }

    public function testProgressIsToldMessageByMessageOfWhatWasExpected(): void
    {
        $fill = static function (StoreWriter $w): void {
            foreach (['+447700900010' => 3, '+447700900011' => 0, '+447700900012' => 2] as $key => $count) {
                $id = $w->conversation(Chats::direct($key));
                for ($n = 0; $n < $count; ++$n) {
                    $w->message($id, Chats::text('m', 1_000 + $n, "M$n"));
                }
            }
        };
        $progress = new RecordedProgress();
        $this->compare($fill, $fill, $progress);
        self::assertSame(['comparing' => [5, 0, 5, 0]], $progress->phases);
    }
}
