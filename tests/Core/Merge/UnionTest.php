<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Merge;

use Eris\Generators;
use Eris\TestTrait;
use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Merge\MergeReport;
use Geschenk\Core\Merge\Union;
use Geschenk\Core\Merge\UnitedFiles;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\Fate;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Core\UnusableInput;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class UnionTest extends TestCase
{
    use Scratch;
    use TestTrait;

    private const NOW = 1_795_192_800_000;

    private int $run = 0;

    /** A union loses nothing and doubles nothing, of whatever two phones hold. */
    #[DataProvider('platforms')]
    public function testAllOfBothIsThereAndNothingTwice(string $platform): void
    {
        $this->limitTo(15)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            [$one, $other, $here] = $this->two($seed, $platform);
            $report = (new Union($one, $other))->build($here.'/u.sqlite', new NoProgress());
            $united = new ChatStore($here.'/u.sqlite');
            self::assertSame($one->messageCount(), $report->brought + $report->both, "seed $seed");
            self::assertSame($other->messageCount(), $report->there + $report->both, "seed $seed");
            self::assertSame(
                $report->brought + $report->there + $report->both, $united->messageCount(), "seed $seed",
            );
            foreach ([$one, $other] as $side) {
                self::assertSame([], array_diff(self::identities($side), self::identities($united)), "seed $seed");
            }
            // What is brought keeps its order, unless nothing of a conversation is new to the phone.
            $order = self::among($united, $one);
            foreach (self::inOrder($one) as $key => $own) {
                $isNew = [] !== self::without($own, self::inOrder($other)[$key] ?? []);
                self::assertTrue($own === $order[$key] || !$isNew, "seed $seed: the order of $key");
            }
        });
    }

    /** Merging twice changes nothing, whichever of the two is brought again. */
    #[DataProvider('platforms')]
    public function testMergingTwiceChangesNothing(string $platform): void
    {
        $this->limitTo(15)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            [$one, $other, $here] = $this->two($seed, $platform);
            (new Union($one, $other))->build($here.'/u.sqlite', new NoProgress());
            $united = new ChatStore($here.'/u.sqlite');
            foreach ([$one, $other, $united] as $n => $again) {
                $report = (new Union($again, $united))->build("$here/u$n.sqlite", new NoProgress());
                self::assertSame(0, $report->brought, "seed $seed, $n");
                self::assertSame(
                    self::all($united), self::all(new ChatStore("$here/u$n.sqlite")), "seed $seed, $n",
                );
            }
        });
    }

    /** Which of the two phones gives makes no difference to what is there afterwards. */
    #[DataProvider('platforms')]
    public function testEitherWayTheSameMessagesAreThereInTheSameState(string $platform): void
    {
        $this->limitTo(15)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            [$one, $other, $here] = $this->two($seed, $platform);
            if ($one->newestUpTo(self::NOW) === $other->newestUpTo(self::NOW)) {
                return;
            }
            (new Union($one, $other))->build($here.'/u.sqlite', new NoProgress());
            (new Union($other, $one))->build($here.'/v.sqlite', new NoProgress());
            $sorted = static function (array $all): array {
                ksort($all);
                foreach ($all as &$parts) {
                    if (is_array($parts) && is_array($parts['messages'])) {
                        sort($parts['messages']);
                    }
                }

                return $all;
            };
            self::assertSame(
                $sorted(self::all(new ChatStore($here.'/u.sqlite'))),
                $sorted(self::all(new ChatStore($here.'/v.sqlite'))), "seed $seed",
            );
        });
    }

    /** Converted, merged, written, read back: nothing differs, and the sums add up. */
    #[DataProvider('platforms')]
    public function testWhatWasMergedArrives(string $platform): void
    {
        $this->limitTo(15)->forAll(Generators::choose(1, 1_000_000))->then(function (int $seed) use ($platform): void {
            [$one, $there, $here] = $this->two($seed, $platform, anything: true);
            Expectation::of(Chats::format($platform)->capabilities(), self::NOW)->build(
                $one, $here.'/brought.sqlite', new NoProgress(),
            );
            $report = (new Union(new ChatStore($here.'/brought.sqlite'), $there))->build(
                $here.'/u.sqlite', new NoProgress(),
            );
            $expected = new ChatStore($here.'/u.sqlite');
            $files = new UnitedFiles(new FolderFiles($here.'/files'), new FolderFiles($here.'/files'));
            $format = Chats::format($platform);
            $format->writer()?->write($expected, $files, $here.'/out', new NoProgress());
            $back = new StoreWriter($here.'/back.sqlite');
            $format->reader()->read($here.'/out', new FolderFiles($here.'/out'), $back, new NoProgress());
            $back->finish();
            $result = (new Comparison($expected, new ChatStore($here.'/back.sqlite')))->run(
                $here.'/result.sqlite', new NoProgress(),
            );
            $totals = $result->totals();
            self::assertTrue($totals->complete(), "seed $seed: ".json_encode([
                $totals, $result->reasons(), $result->account(), array_filter(
                    $result->conversations(), static fn (array $c): bool => [] !== $c['settings'],
                ),
            ]));
            self::assertSame($one->messageCount(), $totals->messages, "seed $seed: of the backup");
            self::assertSame($report->there, $totals->kept, "seed $seed: of the phone");
            $again = (new Union(new ChatStore($here.'/brought.sqlite'), new ChatStore($here.'/back.sqlite')))->build(
                $here.'/again.sqlite', new NoProgress(),
            );
            self::assertSame(0, $again->brought, "seed $seed: brought once more");
            self::assertSame(
                self::all(new ChatStore($here.'/back.sqlite')), self::all(new ChatStore($here.'/again.sqlite')),
                "seed $seed: brought once more",
            );
        });
    }

    public function testTheLaterStateOfAMessageCounts(): void
    {
        $one = Chats::text('first', 1_000, 'W')->with(['editedAt' => 500, 'starred' => true, 'reactions' => [
            new Reaction('a', '👍', 10), new Reaction('b', 'x', 10),
        ]]);
        $other = Chats::text('edited', 1_000, 'W')->with([
            'editedAt' => 900, 'state' => DeliveryState::Received, 'reactions' => [new Reaction('a', '👎', 20)],
        ]);
        [$united, $report] = $this->unite([$one, Chats::text('old', 5)], [$other, Chats::text('new', 9_000)]);
        $message = $united['W'];
        self::assertSame('edited', $message->text);
        self::assertSame(DeliveryState::Seen, $message->state, 'Read is read.');
        self::assertFalse($message->starred, 'Stars are those of the phone that was used last.');
        self::assertSame(
            [['a', '👎'], ['b', 'x']],
            array_map(static fn (Reaction $r): array => [$r->personKey, $r->sign], $message->reactions),
        );
        self::assertSame(MergeReport::THERE, $report->usedLast);
        self::assertSame([1, 1, 1, 1], [$report->brought, $report->there, $report->both, $report->settled]);
        $ways = array_column($report->conflicts, 'way', 'aspect');
        ksort($ways);
        self::assertSame(
            ['reactions' => 'both', 'star' => 'used_last', 'state' => 'furthest', 'text' => 'later'], $ways,
        );
    }

    public function testADeletionCountsWhicheverPhoneKnowsOfIt(): void
    {
        $said = Chats::text('said', 1_000, 'W');
        $gone = $said->with(['kind' => Kind::Deleted, 'text' => null, 'editedAt' => null]);
        foreach ([[$said, $gone], [$gone, $said]] as [$one, $other]) {
            [$united, $report] = $this->unite([$one], [$other]);
            self::assertSame(Kind::Deleted, $united['W']->kind);
            self::assertNull($united['W']->text);
            self::assertSame('deletion', $report->conflicts[0]['aspect']);
        }
    }

    public function testAFileThatOnePhoneLostIsTakenFromTheOther(): void
    {
        $with = static fn (Presence $presence): Message => Chats::text('', 1_000, 'W')->with([
            'kind' => Kind::Photo, 'text' => null, 'attachments' => [new Attachment(
                'x.jpg', null, 'image/jpeg', 9, Presence::Present === $presence ? str_repeat('a', 64) : null, $presence,
            )],
        ]);
        [$united] = $this->unite([$with(Presence::Present)], [$with(Presence::Missing), Chats::text('', 9_000)]);
        self::assertSame('brought/x.jpg', $united['W']->attachments[0]->path);
        [$united] = $this->unite([$with(Presence::Missing)], [$with(Presence::Present), Chats::text('', 9_000)]);
        self::assertSame('there/x.jpg', $united['W']->attachments[0]->path);
    }

    public function testTwoMessagesUnderOneIdAreNotOne(): void
    {
        $a = Chats::text('one', 1_000, 'W');
        $b = Chats::text('other', 2_000, 'W');
        [, $report, $all] = $this->unite([$a, $b], [$b, Chats::text('third', 3_000, 'W')]);
        self::assertSame([1, 1, 1], [$report->brought, $report->there, $report->both]);
        self::assertSame(['one', 'other', 'third'], array_map(static fn (Message $m): ?string => $m->text, $all));
    }

    public function testWhatOnlyThePhoneHasStandsWhereItsTimeBelongs(): void
    {
        $t = static fn (string $text, int $at): Message => Chats::text($text, $at, $text);
        [, , $all] = $this->unite(
            [$t('a', 10), $t('c', 30), $t('odd', 9_999_999_999_999), $t('e', 50)],
            [$t('zero', 0), $t('b', 20), $t('c', 30), $t('d', 40), $t('f', 60)],
        );
        self::assertSame(
            ['zero', 'a', 'b', 'c', 'odd', 'd', 'e', 'f'],
            array_map(static fn (Message $m): ?string => $m->text, $all), 'A time of the future moves nothing.',
        );
    }

    public function testSettingsArePinsAndPeopleOfThePhoneThatWasUsedLast(): void
    {
        $make = fn (string $name, int $newest, array $pins, string $title): ChatStore => Chats::store(
            $this->path($name),
            static function (StoreWriter $w) use ($pins, $title, $newest): void {
                foreach ($pins as $key => $pin) {
                    $id = $w->conversation(Chats::direct($key)->with([
                        'pinPlace' => $pin, 'title' => $title, 'unread' => $newest,
                    ]));
                    $w->message($id, Chats::text('x', $newest));
                }
            },
        );
        $old = $make('old.sqlite', 5, ['a' => 1, 'b' => 2, 'c' => null], 'old');
        $new = $make('new.sqlite', 9, ['c' => 1, 'd' => 2], 'new');
        (new Union($old, $new))->build($this->path('u.sqlite'), new NoProgress());
        $pins = $titles = $fates = [];
        foreach ((new ChatStore($this->path('u.sqlite')))->conversations() as $stored) {
            $pins[$stored->conversation->key] = $stored->conversation->pinPlace;
            $titles[$stored->conversation->key] = $stored->conversation->title.$stored->conversation->unread;
            $fates[$stored->conversation->key] = $stored->fate;
        }
        self::assertSame(['a' => 3, 'b' => 4, 'c' => 1, 'd' => 2], $pins);
        self::assertSame(['a' => 'old5', 'b' => 'old5', 'c' => 'new9', 'd' => 'new9'], $titles);
        self::assertSame(
            ['a' => Fate::Changed, 'b' => Fate::Changed, 'c' => Fate::Changed, 'd' => Fate::Kept], $fates,
        );
    }

    public function testWhatWasLeftOutOfTheBackupDoesNotTakeThePhonesAway(): void
    {
        $expired = Chats::text('gone soon', 1_000, 'W')->with(['expiresAt' => 2_000]);
        $chats = Chats::store($this->path('one.sqlite'), static function (StoreWriter $w) use ($expired): void {
            $w->message($w->conversation(Chats::direct()), $expired);
        });
        Expectation::of(Chats::format('android')->capabilities(), self::NOW)->build(
            $chats, $this->path('brought.sqlite'), new NoProgress(),
        );
        $there = Chats::store($this->path('there.sqlite'), static function (StoreWriter $w): void {
            $w->message($w->conversation(Chats::direct()), Chats::text('gone soon', 1_000, 'W'));
        });
        $report = (new Union(new ChatStore($this->path('brought.sqlite')), $there))->build(
            $this->path('u.sqlite'), new NoProgress(),
        );
        self::assertSame([0, 1, 0], [$report->brought, $report->there, $report->both]);
        $united = new ChatStore($this->path('u.sqlite'));
        self::assertSame([2, 1], [$united->messageCount(), $united->writtenCount()]);
    }

    public function testChatsOfTwoAccountsAreRefused(): void
    {
        $one = Chats::store($this->path('one.sqlite'), static fn () => null);
        $other = Chats::store($this->path('other.sqlite'), static fn () => null, messenger: 'Quillet');
        $this->expectException(UnusableInput::class);
        (new Union($one, $other))->build($this->path('u.sqlite'), new NoProgress());
    }

    /** @return list<array{string}> */
    public static function platforms(): array
    {
        return [['android'], ['ios']];
    }

    /**
     * Two phones of one account: what both have, in other states, what one has, and what is all its own.
     *
     * @param bool $anything whether the first may hold what the platform can't
     *
     * @return array{ChatStore, ChatStore, string} and the folder where they are
     */
    private function two(int $seed, string $platform, bool $anything = false): array
    {
        $this->path('x');
        $here = $this->path((string) ++$this->run);
        mkdir($here);
        $base = Chats::random($seed, $here.'/base.sqlite', $here.'/files', $platform);
        $own = Chats::random($seed + 7, $here.'/own.sqlite', $here.'/files', $anything ? null : $platform);
        $chance = new Randomizer(new Mt19937($seed));
        $make = static fn (string $name, ChatStore $also): ChatStore => Chats::store(
            "$here/$name.sqlite",
            static function (StoreWriter $w) use ($base, $also, $chance): void {
                foreach ([$base, $also] as $chats) {
                    foreach ($chats->people() as $person) {
                        $w->person($person);
                    }
                }
                foreach ($base->labels() as $label) {
                    $w->label($label);
                }
                $seen = [];
                foreach ($base->conversations() as $stored) {
                    if (0 === $chance->getInt(0, 5)) {
                        continue;
                    }
                    $seen[$stored->conversation->key] = true;
                    $id = $w->conversation(self::altered($stored->conversation, $chance));
                    foreach ($base->messages($stored->id) as $message) {
                        if (0 !== $chance->getInt(0, 3)) {
                            $w->message($id, self::changed($message->message, $chance));
                        }
                    }
                }
                foreach ($also->conversations() as $stored) {
                    if (!isset($seen[$stored->conversation->key])) {
                        $id = $w->conversation($stored->conversation->with(['labels' => []]));
                        foreach ($also->messages($stored->id) as $message) {
                            $w->message($id, $message->message);
                        }
                    }
                }
            },
            'android', $base->source()->edition,
        );
        $empty = Chats::store($here.'/empty.sqlite', static fn () => null);

        return [$make('one', $own), $make('other', $empty), $here];
    }

    private static function altered(Conversation $conversation, Randomizer $chance): Conversation
    {
        return 0 === $chance->getInt(0, 1) ? $conversation : $conversation->with([
            'archived' => !$conversation->archived, 'unread' => $chance->getInt(0, 9), 'draft' => null,
            'members' => array_slice($conversation->members, 1), 'pinPlace' => $chance->getInt(1, 3),
        ]);
    }

    private static function changed(Message $message, Randomizer $chance): Message
    {
        return match ($chance->getInt(0, 7)) {
            0 => $message->with(['starred' => !$message->starred]),
            1 => $message->with(['text' => 'edited', 'editedAt' => $chance->getInt(1, 9), 'mentions' => []]),
            2 => $message->with(['receipts' => array_slice($message->receipts, 1)]),
            3 => $message->with(['reactions' => []]),
            4 => $message->with(['state' => DeliveryState::Waiting]),
            5 => $message->with(['attachments' => array_map(
                static fn (Attachment $a): Attachment => $a->presence->hasBytes() ? $a->leftBehind() : $a,
                $message->attachments,
            )]),
            default => $message,
        };
    }

    /**
     * @param list<Message> $brought
     * @param list<Message> $there
     *
     * @return array{array<string, Message>, MergeReport, list<Message>} by wire id, and all in order
     */
    private function unite(array $brought, array $there): array
    {
        $this->path('x');
        $here = $this->path('unite'.++$this->run);
        mkdir($here);
        $make = static fn (string $name, array $messages): ChatStore => Chats::store(
            "$here/$name.sqlite",
            static function (StoreWriter $w) use ($messages): void {
                $id = $w->conversation(Chats::direct());
                /** @var list<Message> $messages */
                foreach ($messages as $message) {
                    $w->message($id, $message);
                }
            },
        );
        $union = new Union($make('one', $brought), $make('other', $there));
        $report = $union->build("$here/u.sqlite", new NoProgress());
        $united = new ChatStore("$here/u.sqlite");
        $all = $by = [];
        foreach ($united->conversations() as $stored) {
            foreach ($united->messages($stored->id) as $message) {
                $all[] = $message->message;
                $by[$message->message->wireId ?? ''] = $message->message;
            }
        }

        return [$by, $report, $all];
    }

    /** What an edit of a message changes on neither phone; without a wire id, moment and sender have to do. */
    private static function id(Message $message): string
    {
        return null !== $message->wireId && '' !== $message->wireId
            ? $message->wireId
            : $message->sentAt.' '.($message->senderKey ?? ($message->fromOwner ? 'owner' : 'nobody'));
    }

    /** @return list<string> conversation and identity of each message */
    private static function identities(ChatStore $chats): array
    {
        $all = [];
        foreach ($chats->conversations() as $stored) {
            foreach ($chats->messages($stored->id) as $message) {
                $all[] = $stored->conversation->key."\0".self::id($message->message);
            }
        }

        return $all;
    }

    /** @return array<string, list<string>> identities in their order, by conversation */
    private static function inOrder(ChatStore $chats): array
    {
        $all = [];
        foreach ($chats->conversations() as $stored) {
            $all[$stored->conversation->key] = [];
            foreach ($chats->messages($stored->id) as $message) {
                $all[$stored->conversation->key][] = self::id($message->message);
            }
        }
        ksort($all);

        return $all;
    }

    /** @return array<string, list<string>> like inOrder(), of those of one that stand in another */
    private static function among(ChatStore $united, ChatStore $one): array
    {
        $own = self::inOrder($one);
        $all = [];
        foreach ($united->conversations() as $stored) {
            if (!isset($own[$stored->conversation->key])) {
                continue;
            }
            $all[$stored->conversation->key] = [];
            foreach ($united->messages($stored->id) as $message) {
                if (Fate::Kept !== $message->fate) {
                    $all[$stored->conversation->key][] = self::id($message->message);
                }
            }
        }
        ksort($all);

        return $all;
    }

    /**
     * @param list<string> $list
     * @param list<string> $other
     *
     * @return list<string> what is left of a list once each of another is taken away once
     */
    private static function without(array $list, array $other): array
    {
        foreach ($other as $one) {
            $at = array_search($one, $list, true);
            if (false !== $at) {
                unset($list[$at]);
            }
        }

        return array_values($list);
    }

    /** @return array<string, array{conversation: string, messages: list<string>}> all that is compared, by key */
    private static function all(ChatStore $chats): array
    {
        $all = [];
        foreach ($chats->conversations() as $stored) {
            if (!$stored->fate->isWritten()) {
                continue;
            }
            $c = $stored->conversation;
            $opaque = $c->opaque;
            ksort($opaque);
            $messages = [];
            foreach ($chats->messages($stored->id) as $message) {
                if ($message->fate->isWritten()) {
                    $messages[] = serialize(MessageRow::values($message->message));
                }
            }
            $all[$c->key] = [
                'conversation' => serialize([$c->settings(), $c->members, $opaque]), 'messages' => $messages,
            ];
        }
        ksort($all);

        return $all;
    }
}
